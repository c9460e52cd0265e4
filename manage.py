#!/usr/bin/env python
"""Django's command line for this project."""

import os
import sys

if __name__ == "__main__":
    if "--data" in sys.argv[:-1]:
        # the data folder must be known before the settings are read
        os.environ["COLD_STACK_DATA"] = sys.argv[sys.argv.index("--data") + 1]
    if "serve" in sys.argv and ("--demo" in sys.argv or "--own" in sys.argv):
        os.environ["COLD_STACK_WORLD"] = "demo" if "--demo" in sys.argv else "own"
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "coldstack.server.config.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
