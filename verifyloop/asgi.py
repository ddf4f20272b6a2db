"""ASGI entry point."""

import os
import warnings

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
# WhiteNoise sends files as blocking iterators; they are small and Django copes.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous")
application = get_asgi_application()
