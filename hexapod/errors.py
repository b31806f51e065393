"""Errors that carry a sentence for the person at the screen."""


class HexapodError(Exception):
    """Base of all errors of ours. ``str(error)`` is one or two plain sentences for the user."""


class EditRefused(HexapodError):
    """An edit would make a plan that cannot be; the plan is unchanged."""


class BadText(HexapodError):
    """Typed text that cannot be understood; the sentence says what would be, ``at`` from which character on."""

    def __init__(self, sentence: str, at: int | None = None) -> None:
        super().__init__(sentence)
        self.at = at


class CannotSchedule(HexapodError):
    """The plan has no dates: a calendar never works, or work runs beyond the horizon."""


class BadFile(HexapodError):
    """A file that cannot be read or written; the sentence names the file and the place in it."""
