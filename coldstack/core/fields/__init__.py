"""Each quantity that a person can give, told once, beside the value that holds it.

A field of core's value classes is annotated with what is asked there: its name in the form, unit, bounds,
usual range, the words people use for it, how it is asked. From that follow the checks of the value, the
API's shapes, the columns of CSV files and their templates, the JSON schema, and what the screens know.
"""
