"""What a hand asks for at the menus: files, the record, marks on the drawing, one way or another."""
