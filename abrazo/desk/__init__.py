"""One function per thing that a person does, each exactly one transaction."""
