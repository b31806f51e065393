"""Files brought in: what each column is, what each row would do, and only then the edit."""
