"""Pages: read the form, one desk call, render or redirect."""
