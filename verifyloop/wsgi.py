"""WSGI entry point. No connection is held open: screens ask again for what is live."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
application = get_wsgi_application()

from verifyloop.register.keys import keys  # noqa: E402  (Django must be set up first)

# Without the keys nothing can be sealed: better no server than records without a seal.
keys()
