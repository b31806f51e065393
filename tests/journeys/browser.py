"""A real browser without a monitor: Debian's Chromium, driven as W3C WebDriver says (https://www.w3.org/TR/webdriver2/).

What a page saves lands in ``downloads``.
"""

from __future__ import annotations

import contextlib
import json
import shutil
import socket
import subprocess
import time
import urllib.request
from pathlib import Path
from typing import Any

DRIVER = shutil.which("chromedriver")
ELEMENT = "element-6066-11e4-a52e-4f735466cecf"  # the key that the standard gives a found element
PATIENCE = 60  # seconds


class Browser:
    def __init__(self, downloads: Path) -> None:
        assert DRIVER is not None
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        self.downloads = downloads
        self._url = f"http://127.0.0.1:{port}"
        self._driver = subprocess.Popen(
            [DRIVER, f"--port={port}"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        options = {
            "args": ["--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--lang=en-GB"],
            "prefs": {"download.default_directory": str(downloads), "download.prompt_for_download": False},
        }
        wanted = {"capabilities": {"alwaysMatch": {"browserName": "chrome", "goog:chromeOptions": options,
                                                   "goog:loggingPrefs": {"browser": "ALL"}}}}  # fmt: skip
        self._url += "/session/" + self._until_it_answers("/session", wanted)["sessionId"]

    def _until_it_answers(self, path: str, body: Any) -> Any:
        begun = time.monotonic()
        while True:
            try:
                return self._ask("POST", path, body)
            except OSError:
                if time.monotonic() - begun > PATIENCE:
                    raise
                time.sleep(0.1)

    def _ask(self, how: str, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(self._url + path, data, {"Content-Type": "application/json"}, method=how)
        with urllib.request.urlopen(request, timeout=PATIENCE) as answer:
            return json.load(answer)["value"]

    def open(self, page: Path) -> None:
        self._ask("POST", "/url", {"url": page.as_uri()})

    def run(self, script: str) -> Any:
        """What a script gives back, run in the page."""
        return self._ask("POST", "/execute/sync", {"script": script, "args": []})

    def resize(self, width: int, height: int) -> None:
        self._ask("POST", "/window/rect", {"width": width, "height": height})

    def _tell(self, command: str, **params: Any) -> Any:
        """A command of the Chrome DevTools Protocol (https://chromedevtools.github.io/devtools-protocol/)."""
        return self._ask("POST", "/goog/cdp/execute", {"cmd": command, "params": params})

    def prefer(self, scheme: str, *, on_paper: bool = False) -> None:
        """As if the reader preferred ``light`` or ``dark``; or as it is printed."""
        preferred = [{"name": "prefers-color-scheme", "value": scheme}]
        self._tell("Emulation.setEmulatedMedia", media="print" if on_paper else "", features=preferred)

    def roles(self) -> list[str]:
        """What each thing of the page is to who has it read aloud."""
        found = self._tell("Accessibility.getFullAXTree")["nodes"]
        return [node["role"]["value"] for node in found if not node["ignored"]]

    def phone(self, width: int, height: int) -> None:
        """As on a phone of that size."""
        self._tell("Emulation.setDeviceMetricsOverride", width=width, height=height, deviceScaleFactor=2, mobile=True)

    def clear(self, selector: str) -> None:
        self._ask("POST", f"/element/{self.find(selector)}/clear", {})

    def find(self, selector: str) -> str:
        return str(self._ask("POST", "/element", {"using": "css selector", "value": selector})[ELEMENT])

    def type_into(self, selector: str, text: str) -> None:
        self._ask("POST", f"/element/{self.find(selector)}/value", {"text": text})

    def press(self, selector: str) -> None:
        self._ask("POST", f"/element/{self.find(selector)}/click", {})

    def text_of(self, selector: str) -> str:
        return str(self._ask("GET", f"/element/{self.find(selector)}/text"))

    def complaints(self) -> list[str]:
        """What the browser has to say against a page, such as a breach of its security policy."""
        return [entry["message"] for entry in self._ask("POST", "/se/log", {"type": "browser"})]

    def saved(self, pattern: str) -> Path:
        """A file that a page saved, once it is whole."""
        begun = time.monotonic()
        while not (found := list(self.downloads.glob(pattern))):
            if time.monotonic() - begun > PATIENCE:
                raise AssertionError(f"nothing was saved as {pattern}")
            time.sleep(0.05)
        return found[0]

    def close(self) -> None:
        with contextlib.suppress(OSError):
            self._ask("DELETE", "")
        self._driver.terminate()
        self._driver.wait(PATIENCE)
