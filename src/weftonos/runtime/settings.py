"""Where the workshop lives and how it is served, from options or WEFTONOS_… environment variables."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_data_path
from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

LOOPBACK = ("127.0.0.1", "localhost", "::1")


class Settings(BaseSettings):
    """Settings of one running program.

    ``copy_dir`` is where the daily copies go; left out, a folder beside the workshop. ``passcode`` is asked for by
    other machines where ``host`` is not this machine alone; left out, a new one is made at each start.
    """

    model_config = SettingsConfigDict(env_prefix="WEFTONOS_")

    data_dir: Path = Field(default_factory=lambda: user_data_path("weftonos", appauthor=False))
    copy_dir: Path | None = None
    host: str = "127.0.0.1"
    port: int = Field(default=8741, ge=0, le=65535)
    passcode: str | None = None

    @property
    def only_this_machine(self) -> bool:
        """Whether the server listens on the loopback alone."""
        return self.host in LOOPBACK
