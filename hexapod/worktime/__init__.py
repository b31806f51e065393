"""Working time: calendars compiled to arrays, arithmetic on them, lengths and dates as people type them."""
