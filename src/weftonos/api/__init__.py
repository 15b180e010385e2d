"""The interface over HTTP: one thin router a station; requests become calls of core and store."""

from weftonos.api.schemas import share_schemas

share_schemas()
