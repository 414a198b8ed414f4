"""The command ``kunstflug``; each part registers its commands, listed by ``--help`` in this order."""

from kunstflug.cli import compute, keep, pond, serve
from kunstflug.cli.app import app, main

__all__ = ["app", "compute", "keep", "main", "pond", "serve"]
