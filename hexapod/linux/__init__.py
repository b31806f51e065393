"""Hexapod on a Linux desktop: menu entry, icon, file type and AppStream metadata, in the XDG folders of this user.

As the Desktop Entry Specification 1.5, the Icon Theme Specification, the Shared MIME-info Specification and the
AppStream specification of freedesktop.org have it.
"""

from __future__ import annotations

import os
import re
import sys
from pathlib import Path

from hexapod.system.children import run_of_the_system
from hexapod.system.files import make_folder, read_within, remove, write_whole

HERE = Path(__file__).parent
NAME = "org.hexapod.Hexapod"
PLACES = {  # files beside this one, and where each goes below the folder of shared data
    f"{NAME}.desktop": f"applications/{NAME}.desktop",
    f"{NAME}.metainfo.xml": f"metainfo/{NAME}.metainfo.xml",
    f"{NAME}.mime.xml": "mime/packages/hexapod.xml",
    f"{NAME}.svg": f"icons/hicolor/scalable/apps/{NAME}.svg",
}
CACHES = (("update-mime-database", "mime"), ("update-desktop-database", "applications"))
LARGEST = 1024 * 1024


def shared_data() -> Path:
    """Where this user's menu entries, icons and file types are."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def install_desktop(share: Path, command: Path) -> list[Path]:
    """Make Hexapod known to the desktop; the menu entry starts ``command``. The files that were written."""
    written = []
    for name, place in PLACES.items():
        data = read_within(HERE / name, LARGEST)
        if name.endswith(".desktop"):
            text = re.sub(r"^Exec=hexapod", lambda _: f"Exec={quoted(str(command))}", data.decode(), flags=re.MULTILINE)
            data = text.encode()
        make_folder((share / place).parent)
        write_whole(share / place, data)
        written.append(share / place)
    _update_caches(share)
    return written


def remove_desktop(share: Path) -> list[Path]:
    """Take everything away again. The files that were there."""
    found = [share / place for place in PLACES.values() if (share / place).is_file()]
    for path in found:
        remove(path)
    _update_caches(share)
    return found


def own_command() -> Path:
    """The command that was called, or the one beside the interpreter."""
    called = Path(sys.argv[0]).absolute()
    is_ours = called.name == "hexapod" and called.is_file()
    return called if is_ours else Path(sys.executable).absolute().parent / "hexapod"


def quoted(command: str) -> str:
    """As the key Exec wants it: in quotes where a character is reserved, backslashes written twice in a string."""
    if re.fullmatch(r"[\w@/.+-]+", command):
        return command
    inner = re.sub(r'(["`$\\])', r"\\\1", command).replace("\\", "\\\\").replace("%", "%%")
    return f'"{inner}"'


def _update_caches(share: Path) -> None:
    """Desktops without these programs look at the files themselves."""
    for program, folder in CACHES:
        if (share / folder).is_dir():
            run_of_the_system(program, str(share / folder))
