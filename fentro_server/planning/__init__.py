"""Who is to be where when: appointments at systems."""
