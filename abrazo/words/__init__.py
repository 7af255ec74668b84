"""What people read, in their language: sentences for the journal and for refusals, and the texts of pages."""
