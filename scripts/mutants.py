"""`make mutants`: put small faults into the estimators, one at a time, and see whether the tests notice.

The faults are cosmic-ray's: another operator, another comparison, a number one more or one less, and for or. Each is
tried in a forked process whose import of the one module is answered with the faulty text, so that nothing is written.
Left out: sentences (what stands in a formatted text) and annotations. Faults that cannot be told from the original by
any answer are listed in EQUIVALENT with the reason.
"""

from __future__ import annotations

import ast
import importlib.abc
import importlib.machinery
import os
import signal
import sys
import time
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache, partial
from pathlib import Path

import cosmic_ray.plugins
from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code

ROOT = Path(__file__).parent.parent
SOURCES = ROOT / "src"
#: The estimators, and the tests that are to notice.
TESTS = {
    "weftonos.core.balance.estimate": ["test_estimators.py"],
    "weftonos.core.balance.posterior": ["test_estimators.py", "test_balance.py"],
    "weftonos.core.balance.policy": ["test_estimators.py", "test_balance.py"],
    "weftonos.core.balance.sense": ["test_estimators.py", "test_balance.py"],
    "weftonos.core.balance.looks": ["test_estimators.py", "test_balance.py"],
    "weftonos.core.balance.starting_point": ["test_estimators.py", "test_starting_point.py"],
    "weftonos.core.balance.combination": ["test_estimators.py", "test_starting_point.py"],
    "weftonos.core.balance.stitched": ["test_estimators.py", "test_starting_point.py", "test_worth_of_a_line.py"],
    "weftonos.core.balance.moved": ["test_balance_over_time.py"],
    "weftonos.core.balance.sittings": ["test_balance_over_time.py"],
    "weftonos.core.balance.steadiness": ["test_balance_over_time.py"],
    "weftonos.core.balance.carried": ["test_balance_over_time.py"],
    "weftonos.core.balance.worth": ["test_worth_of_a_line.py"],
    "weftonos.core.bobbin.screw": ["test_estimators.py", "test_gauge.py"],
    "weftonos.core.mend.diagnosis": ["test_estimators.py", "test_diagnosis.py"],
    "weftonos.core.needle.pairing": ["test_estimators.py", "test_needle_pairing.py"],
    "weftonos.core.needle.life": ["test_estimators.py", "test_needle_life.py"],
    "weftonos.core.bobbin.own_number": ["test_estimators.py"],
    "weftonos.core.bobbin.control_chart": ["test_estimators.py"],
}
ARITHMETIC = ["Add_Sub", "Sub_Add", "Mul_Div", "Div_Mul", "Pow_Mul", "FloorDiv_Mul", "Mod_Mul", "BitAnd_BitOr"]
COMPARISONS = ["Lt_LtE", "Lt_GtE", "LtE_Lt", "LtE_Gt", "Gt_GtE", "Gt_LtE", "GtE_Gt", "GtE_Lt", "Eq_NotEq", "NotEq_Eq"]
OPERATORS = [
    *(f"core/ReplaceBinaryOperator_{name}" for name in ARITHMETIC),
    *(f"core/ReplaceComparisonOperator_{name}" for name in COMPARISONS),
    "core/ReplaceComparisonOperator_Is_IsNot",
    "core/ReplaceComparisonOperator_IsNot_Is",
    "core/ReplaceUnaryOperator_Delete_USub",
    "core/ReplaceUnaryOperator_Delete_Not",
    "core/ReplaceAndWithOr",
    "core/ReplaceOrWithAnd",
    "core/NumberReplacer",
]
#: Longest a fault may take: one that goes on for ever is noticed by that.
SECONDS = 60
#: (module, original line, faulty line): no answer of the program differs, and why.
EQUIVALENT: dict[tuple[str, str, str], str] = {
    (
        "weftonos.core.balance.posterior",
        "weights = np.exp(log - log.max())",
        "weights = np.exp(log + log.max())",
    ): "a factor of all weights is divided out again",
    (
        "weftonos.core.balance.words",
        'side = "lower" if looks[0].grade < 0 else "higher"',
        'side = "lower" if looks[0].grade <= 0 else "higher"',
    ): "looks that are balanced do not get here",
    (
        "weftonos.core.mend.diagnosis",
        "likely = np.exp(odds - odds.max())",
        "likely = np.exp(odds + odds.max())",
    ): "a factor of all odds is divided out again",
    (
        "weftonos.core.mend.diagnosis",
        "for size in range(1, len(held) + 1 if len(held) <= MOST_HELD_TOGETHER else 2):",
        "for size in range(1, len(held) + 2 if len(held) <= MOST_HELD_TOGETHER else 2):",
    ): "there are no combinations of more than there are",
    (
        "weftonos.core.needle.pairing",
        "if top.single and top.threads[0].is_monofilament:",
        "if top.single and top.threads[ -1].is_monofilament:",
    ): "of one thread the first is the last",
    (
        "weftonos.core.needle.pairing",
        "elif top.threads[0].fiber is Fiber.RAYON:",
        "elif top.threads[ -1].fiber is Fiber.RAYON:",
    ): "several threads never get here",
    (
        "weftonos.core.bobbin.control_chart",
        'way = "falling" if steps[0] < 0 else "rising"',
        'way = "falling" if steps[0] <= 0 else "rising"',
    ): "a trend has no step of nothing",
    (
        "weftonos.core.bobbin.control_chart",
        'why = "a spring wearing or a screw creeping loose" if steps[0] < 0 else "lint building up or a screw creeping"',  # noqa: E501
        'why = "a spring wearing or a screw creeping loose" if steps[0] <= 0 else "lint building up or a screw creeping"',  # noqa: E501
    ): "the same",
    (
        "weftonos.core.bobbin.control_chart",
        "if len(tail) == run_length and len({p.mean > center for p in tail}) == 1:",
        "if len(tail) == run_length and len({p.mean <= center for p in tail}) == 1:",
    ): "all above, or none above: either way one answer",
    (
        "weftonos.core.bobbin.control_chart",
        'side = "above" if tail[-1].mean > center else "below"',
        'side = "above" if tail[1].mean > center else "below"',
    ): "all of a run are on one side",
}


@dataclass(frozen=True)
class Mutant:
    """A fault: in which module, the line before and after, and the whole faulty text."""

    module: str
    line: int
    before: str
    after: str
    text: str


class _Strip(ast.NodeTransformer):
    """Leave out what is no arithmetic: annotations and the parts of sentences."""

    def visit_JoinedStr(self, node: ast.JoinedStr) -> ast.AST:
        return ast.copy_location(ast.Constant("a sentence"), node)

    def visit_AnnAssign(self, node: ast.AnnAssign) -> ast.AST:
        node.annotation = ast.Name("annotation")
        return self.generic_visit(node)

    def visit_arg(self, node: ast.arg) -> ast.AST:
        node.annotation = None
        return node

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        node.returns = None
        return self.generic_visit(node)


def _meaning(text: str) -> str:
    return ast.dump(_Strip().visit(ast.parse(text)))


def file_of(module: str) -> Path:
    """Return where a module stands."""
    return SOURCES / (module.replace(".", "/") + ".py")


@cache
def _original(module: str) -> tuple[str, str]:
    """Return the text of a module, and what it means."""
    text = file_of(module).read_text(encoding="utf-8")
    return text, _meaning(text)


def places(module: str) -> list[tuple[str, int]]:
    """Return where each operator finds something in a module: its name, and which of its places it is."""
    nodes = list(ast_nodes(get_ast(_original(module)[0])))
    found = []
    for name in OPERATORS:
        operator = cosmic_ray.plugins.get_operator(name)()
        count = sum(len(list(operator.mutation_positions(node))) for node in nodes)
        found += [(name, occurrence) for occurrence in range(count)]
    return found


def fault_at(module: str, name: str, occurrence: int) -> Mutant | None:
    """Return the fault of an operator at one of its places; ``None`` where it means nothing."""
    text, meaning = _original(module)
    faulty = mutate_code(text, cosmic_ray.plugins.get_operator(name)(), occurrence)
    if faulty is None:
        return None
    try:
        if _meaning(faulty) == meaning:
            return None
    except SyntaxError:
        # The star of keyword-only parameters is taken for a product: that is no program.
        return None
    lines, changed = text.splitlines(), faulty.splitlines()
    at = next(i for i, (a, b) in enumerate(zip(lines, changed, strict=False)) if a != b)
    return Mutant(module, at + 1, lines[at].strip(), changed[at].strip(), faulty)


def mutants(module: str) -> Iterator[Mutant]:
    """Return every fault of a module that means something, each once."""
    seen = set[str]()
    for name, occurrence in places(module):
        mutant = fault_at(module, name, occurrence)
        if mutant is not None and (meaning := _meaning(mutant.text)) not in seen:
            seen.add(meaning)
            yield mutant


class _Faulty(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Answers the import of one module with the faulty text."""

    def __init__(self, mutant: Mutant) -> None:
        self._mutant = mutant
        self._name = mutant.module.removesuffix(".__init__")

    def find_spec(self, name, path=None, target=None):  # type: ignore[no-untyped-def]
        if name != self._name:
            return None
        package = self._name != self._mutant.module
        spec = importlib.machinery.ModuleSpec(name, self, origin="mutant", is_package=package)
        if package:
            # Its modules are found where they are.
            spec.submodule_search_locations = [str(file_of(self._mutant.module).parent)]
        return spec

    def create_module(self, spec):  # type: ignore[no-untyped-def]
        return None

    def exec_module(self, module):  # type: ignore[no-untyped-def]
        exec(compile(self._mutant.text, f"mutant of {self._mutant.module}", "exec"), module.__dict__)


def run_against(mutant: Mutant | None, runs: Sequence[Sequence[str]], seconds: int = SECONDS) -> int | None:
    """Run pytest with each of these arguments against a fault, in a process of its own, until one run fails.

    Return pytest's exit status of the last run; ``None`` where time ran out.
    """
    child = os.fork()
    if child == 0:
        null = os.open(os.devnull, os.O_WRONLY)
        os.dup2(null, 1)
        os.dup2(null, 2)
        signal.alarm(seconds)
        import pytest

        if mutant is not None:
            sys.meta_path.insert(0, _Faulty(mutant))
        quiet = ["-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist"]
        os._exit(next((status for run in runs if (status := int(pytest.main([*quiet, *run])))), 0))
    _, status = os.waitpid(child, 0)
    return os.WEXITSTATUS(status) if os.WIFEXITED(status) else None


def noticed(mutant: Mutant | None, tests: Sequence[str]) -> bool:
    """Say whether tests of the core fail against a fault."""
    # The order is that of the list: the quick ones first, and the first failure is enough.
    return run_against(mutant, [["--noconftest", str(ROOT / "tests" / "core" / name)] for name in tests]) != 0


def _preload() -> None:
    """Load once what every fork needs and no fault touches."""
    import hypothesis
    import numpy
    import pytest
    import scipy.special
    import scipy.stats

    import weftonos.core.kernel.counting
    import weftonos.core.thread.drawer
    import weftonos.core.thread.path

    hypothesis.settings.register_profile("quick", deadline=None, max_examples=15, database=None)
    hypothesis.settings.load_profile("quick")
    assert pytest and numpy and scipy and weftonos


def main(wanted: Sequence[str]) -> None:
    _preload()
    begin, total, killed = time.monotonic(), Counter[str](), Counter[str]()
    for module, tests in TESTS.items():
        if wanted and not any(word in module for word in wanted):
            continue
        if noticed(None, tests):
            raise SystemExit(f"The tests of {module} fail without any fault.")
        faults = [m for m in mutants(module) if (module, m.before, m.after) not in EQUIVALENT]
        with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
            for mutant, found in zip(faults, pool.map(partial(noticed, tests=tests), faults), strict=True):
                total[module] += 1
                killed[module] += found
                if not found:
                    print(f"  {mutant.module}:{mutant.line}\n    - {mutant.before}\n    + {mutant.after}", flush=True)
        print(f"{module:<42} {killed[module]:>4} of {total[module]:>4} noticed, {killed[module] / total[module]:.0%}")
    share = sum(killed.values()) / max(1, sum(total.values()))
    minutes = (time.monotonic() - begin) / 60
    print(f"{sum(killed.values())} of {sum(total.values())} noticed, {share:.1%}, in {minutes:.0f} min;")
    print(f"{len(EQUIVALENT)} that no answer can tell from the original were left out.")
    if not wanted and share < 0.85:
        raise SystemExit("Fewer than 85 in 100 were noticed.")


if __name__ == "__main__":
    main(sys.argv[1:])
