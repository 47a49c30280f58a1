"""`banister schema`: the JSON schema of the job file."""

from __future__ import annotations

import argparse
import json
from typing import Any

from banister.cli.describe import described
from banister.cli.desk import Desk
from banister.cli.errors import INSIDE
from banister.core.words import Speech
from banister.job.codec import schema


def add_parser(commands: Any, say: Speech) -> None:
    """Add `schema` to the command line."""
    described(commands, "schema", say).set_defaults(run=run)


def run(a: argparse.Namespace, desk: Desk) -> int:
    """Print the schema."""
    print(json.dumps(schema(), indent=2))
    return INSIDE
