#!/usr/bin/env python
"""Django's command line for this project."""

import os
import sys

from coldstack.server.config.arguments import choose_by

if __name__ == "__main__":
    choose_by(sys.argv[1:])
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "coldstack.server.config.settings")
    try:
        from django.core.management import execute_from_command_line

        execute_from_command_line(sys.argv)
    except KeyboardInterrupt:
        sys.exit(130)  # stopped before it served: nothing to say
