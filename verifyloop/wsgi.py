"""WSGI entry point. No connection is held open: screens ask again for what is live."""

import os
from importlib import import_module

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
django = get_wsgi_application()

from django.conf import settings  # noqa: E402  (Django must be set up first)

from verifyloop.edge.proxied import Proxied  # noqa: E402
from verifyloop.register.keys import keys  # noqa: E402

application = Proxied(django, base=settings.BASE_PATH, proxies=settings.PROXIES)

# Without the keys nothing can be sealed: better no server than records without a seal.
keys()

# Every page's code is read before the first request comes, not by it.
import_module(settings.ROOT_URLCONF)
