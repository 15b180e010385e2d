"""Every sentence that people read keeps to the voice of Weftonos: one spelling, the trade's words, no riddles.

The patterns are written from the voice's own lists. What is right in spite of one stands in ``ALLOWED`` with its
reason.
"""

from __future__ import annotations

import re

import pytest
from sentences import is_sentence, said_on_screens, sentences

from weftonos.knowledge import procedures

#: British spellings by their stems, each with what an American writes.
BRITISH = re.compile(
    r"\b\w*(fibre|colour|grey\b|centre|metres?\b|licence|mercerised|neutralis|judgement|favour|behaviour|neighbour|"
    r"labour|honour|catalogue|practis|travelled|cancelled|labelled|levelled|modelled|organis|recognis|realis|normalis|"
    r"summaris|minimis|maximis|stabilis|whilst|amongst|learnt|burnt|spelt|aluminium|ageing|mould|draught|plough|"
    r"\bround (the|it)\b|tyre\b|cheque|skilful|fulfil\b|programme\b|analys(e|ed|ing)\b)\w*",
    re.IGNORECASE,
)
#: Words and turns that the voice rules out, in their sense.
NEVER = {
    "save, saved": r"\b(keep|keeps|kept)\b",
    "delete": r"\b(strike|struck|strikes)\b",
    "test line": r"(\d|\{\}|\b(a|an|one|this|that|each|every|no|good|balanced|last|first|fresh|old|more|few|these|all))"
    r" looks?\b(?! (like|for|at|in|about|right|wrong))",
    "judge": r"\bgrad(e|es|ed|ing)\b",
    "recipe": r"\bkept combination",
    "steady, unsteady": r"\bwaver|\bswing of|\bcalm\b",
    "your usual": r"\bown number of this",
    "two ways to do it": r"\bschools?\b",
    "most likely": r"\b\d+ in 100\b|\b(posterior|censored)\b|\bprior\b",
    "trouble": r"\bincidents?\b",
    "thread guide": r"\bstirrup",
    "the example workshop": r"\bthe demo\b|\blook round\b",
    "idiom": r"\b(turns|wants) no\b|\bof today\b|\bby the records\b|\banew\b|\bso not so\b|\bwants? a fresh\b|"
    r"\bwhat is on now\b|\bso that it is\b|\boftener\b|\bseldomer\b",
    "a person, not the program": r"\bI (know|find|have|can)\b",
}
#: Sentences in which a pattern is met rightly: a piece of each, and why.
ALLOWED = {
    "Keep it aligned with a thin pin": "the hand keeps the needle where it is",
    "keeps it from spilling": "a net holds the thread",
    "keeps the bobbin from spinning on": "a spring holds the bobbin",
    "The machine keeps the stitch length": "a regulator holds it",
    "keeps crying wolf": "an idiom",
    "kept going": "the thread broke and the hand went on",
    "Keep for sampling only": "a note of the example's owner",
    "incident.csv": "the name of a table, which programs read",
    "Stitch a line and look": "the eye looks",
    "I've": "what the hand says on a button",
}
DOUBLED = re.compile(r"(?<!\.)\.\.(?!\.)|\b(at|the|a|to|of|is|in|and) \1\b|\s[.,;:](?![\d.])\s", re.IGNORECASE)


def sayings() -> list[str]:
    """What people read, without what only the reference of the interface or a terminal says."""
    return [f"{each.file}:{each.line}: {each.text}" for each in sentences() if not each.file.endswith("examples.toml")]


def met(pattern: str | re.Pattern[str]) -> list[str]:
    looked_for = re.compile(pattern, re.IGNORECASE) if isinstance(pattern, str) else pattern
    return [
        said
        for said in sayings()
        if looked_for.search(said.split(": ", 1)[1]) and not any(piece in said for piece in ALLOWED)
    ]


def test_the_list_finds_what_people_read():
    found = {each.text for each in sentences()}
    assert len(found) > 3000
    assert "Save as recipe" in found, "a button"
    assert any("Check the bobbin and the seat in the discs" in text for text in found), "the core"
    assert any(each.file.endswith("troubles.toml") for each in sentences())
    assert not is_sentence("SELECT id FROM record")
    assert not is_sentence("application/json charset=utf-8")


def test_one_spelling():
    assert met(BRITISH) == []


@pytest.mark.parametrize("instead", NEVER, ids=lambda name: name.replace(" ", "_"))
def test_the_trade_s_words(instead):
    assert met(NEVER[instead]) == [], instead


def test_no_stop_or_word_stands_twice():
    assert met(DOUBLED) == []


LONGEST = 18
#: Sentences of more words, by a piece of each: short with what they are filled in, or a list of examples.
LONGER = (
    "The end of a {}",
    "There are {} with {}",
    "Unsteady by {}",
    "{} some",
    "All {} holes",
    "With {} of {} holes",
    "such as 40 wt",
)


def test_a_sentence_on_a_screen_is_short():
    """Eighteen words are what a reader takes in with thread in one hand."""
    long = []
    for each, one in said_on_screens():
        words = re.findall(r"[A-Za-z0-9'’½-]+|\{\}", one)
        if len(words) > LONGEST and not any(piece in one for piece in LONGER):
            long.append(f"{each.file}:{each.line}: {one}")
    assert long == []


#: Semicolons that are no pause: what is typed between pulls, years and authors of sources.
SEMICOLONS = (
    "aren't pulls",
    "one pull, or two?",
    "it said “{}”",
    "ISO 1144",
    "ASTM E2587",
    "Box and Cox",
    "Kadane",
    "what is marked (E)",
    "the chances are our own",
    "honest test strips",
    "closer ones are averaged",
)


def test_no_semicolon_on_a_screen():
    found = [
        said
        for said in met(r";(?!base64)")
        if "/api/" not in said and "columns.toml" not in said and not any(piece in said for piece in SEMICOLONS)
    ]
    assert found == []


def test_what_is_allowed_is_there():
    told = "\n".join(sayings())
    assert [piece for piece in ALLOWED if piece not in told] == []


def test_what_the_glossary_marks_in_a_sentence_is_said_somewhere():
    said = " ".join(each.text for each in sentences())
    forms = [form for term in procedures().terms for form in term.forms]
    assert forms and [form for form in forms if not re.search(rf"\b{form}\b", said)] == []
