"""Colours by role, light and dark; fonts, icons, and the style sheet made of them."""
