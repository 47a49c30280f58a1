"""argparse in the program's own words.

argparse has English of its own, and asks gettext for every sentence of it by a name of its module; here the table of
words answers there. A sentence that is not in the table, as one of a later Python, stays as it is.
"""

from __future__ import annotations

import argparse

from banister.core.words import Speech

SENTENCES = {
    "usage: ": "usage", "positional arguments": "positionals", "options": "options", "show this help message and exit": "help",
    "%(prog)s: error: %(message)s\n": "error",
    "the following arguments are required: %s": "required", "unrecognized arguments: %s": "unknown", "not allowed with argument %s": "not_with",
    "ambiguous option: %(option)s could match %(matches)s": "ambiguous", "expected one argument": "one_value",
    "expected at most one argument": "one_value_at_most", "expected at least one argument": "one_value_at_least",
    "invalid choice: %(value)r (choose from %(choices)s)": "choice", "invalid %(type)s value: %(value)r": "value",
    "argument %(argument_name)s: %(message)s": "argument", "one of the arguments %s is required": "one_of", "ignored explicit argument %r": "no_value",
}  # fmt: skip
"""What argparse says, and the words `cli.argparse.KEY` that stand for it."""


def speak(say: Speech) -> None:
    """Have argparse speak through a table of words."""

    def said(sentence: str) -> str:
        key = SENTENCES.get(sentence)
        return sentence if key is None else say(f"cli.argparse.{key}")

    argparse._ = said  # type: ignore[attr-defined]
