"""Files for a browser: a template with our colours, whose only script is named by its hash.

Content Security Policy, level 3 (https://www.w3.org/TR/CSP3/): a script that a page did not come with does not run.
"""

from __future__ import annotations

import base64
from hashlib import sha256
from importlib.resources import files
from string import Template


def web_file(template: str, *, script: str = "", **said: object) -> bytes:
    """A template of ``hexapod/formats`` filled in. It may name ``$palette``, ``$look`` (the palette and how text and
    tables look), and with a script ``$script`` and ``$script_hash``; the rest is ``said``, escaped by who says it."""
    palette = _read("web/palette.css")
    shared = {"palette": palette, "look": palette + _read("web/look.css")}
    if script:
        text = _read(script).strip()
        digest = base64.b64encode(sha256(text.encode()).digest()).decode()
        shared |= {"script": text, "script_hash": f"sha256-{digest}"}
    return Template(_read(template)).substitute(shared, **said).encode()


def _read(name: str) -> str:
    return files("hexapod.formats").joinpath(name).read_text("utf-8")
