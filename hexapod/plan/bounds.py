"""What the values of records stay within, whatever they are typed into or read from."""

from __future__ import annotations

LONGEST = 100 * 366 * 1440  # minutes: no single length of time is longer than a century
FIRST_TIME = 0  # 1970-01-01
LAST_TIME = 84_006_720  # 2129-09-21, so that a century of work still ends in four-digit years
LONGEST_NAME = 1000  # characters
LONGEST_PLACE = 4000  # characters of the path of a file, or of a web page
LONGEST_TEXT = 100_000  # characters of notes, a comment or a formula
LEAST_UNITS, MOST_UNITS = 0.001, 10_000  # of a resource on a task
MOST_PERCENT = 10_000  # of its predecessor's duration, as a lag
DEAREST = 1_000_000_000  # an hour, in the smallest unit of money
MOST_EXCEPTIONS = 10_000  # of one calendar
MOST_CARDS = 10_000  # at once in a stage
MOST_DAYS_AHEAD = 366  # of a reminder
MOST_RULES = 500  # of its exceptions that recur by a rule
MOST_MONEY = 10**15  # of one entry or budget, in the smallest unit
MOST_WORKED = 366 * 1440  # minutes of one log
