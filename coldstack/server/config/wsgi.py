"""The application as a WSGI server wants it."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "coldstack.server.config.settings")
application = get_wsgi_application()
