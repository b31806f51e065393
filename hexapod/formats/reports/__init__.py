"""Reports as files for people without the program: slides, spreadsheets and pages; PDF is painted by the desktop."""
