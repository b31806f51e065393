"""Lines that say it all: a task's name, length, links, people and dates, as people write them in one line."""
