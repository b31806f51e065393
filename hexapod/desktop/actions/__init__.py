"""Every command as data: one registry from which menus, buttons, the find box and the sheets are built."""
