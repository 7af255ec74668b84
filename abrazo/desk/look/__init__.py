"""Reading only: one function, one page's record."""
