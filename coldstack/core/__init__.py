"""The computation of the job: pure Python and NumPy, no Django, HTTP, clock or files of its own making."""
