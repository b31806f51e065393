"""What every room does to the machine in one way only: write files, read them within a budget, start processes."""
