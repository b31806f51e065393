"""The pages of the side about the workspace: its file, its history, its projects and templates."""
