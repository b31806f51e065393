"""The museum's demo workspace, built through the same edits a person makes."""
