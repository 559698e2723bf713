"""The rules of the job. NumPy and SciPy only: no framework, no files, no screen."""
