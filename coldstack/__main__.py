"""`python -m coldstack` is the command `cold-stack`."""

from coldstack.cli import main

if __name__ == "__main__":
    main()
