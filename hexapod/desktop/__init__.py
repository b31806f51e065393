"""The window. Shows plans and dates, turns gestures into edits, computes no date itself."""
