"""WSGI entry point. No connection is held open: screens ask again for what is live."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
application = get_wsgi_application()
