"""Open files: readers that name what they cannot use, writers whose output they take back."""
