"""How gunicorn serves it: ``gunicorn -c python:verifyloop.serving verifyloop.wsgi``.

On SIGTERM no new request is taken and those under way are answered; on SIGHUP each process is
replaced by one with the files as they are now.
"""

import os
import subprocess
import sys

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")

from django.conf import settings

bind, workers, threads = settings.BIND, settings.WORKERS, settings.THREADS
worker_class = "gthread"
# A socket of this machine is for its group: the proxy's account belongs to it.
umask = 0o007
# A list of 30,000 rows takes half a minute to store; a process that stands still longer is ended.
timeout = 120
graceful_timeout = 60
keepalive = 20
control_socket_disable = True
# What a proxy says is looked at by verifyloop/edge/proxied.py, which knows whose word is taken.
forwarded_allow_ips = ""
secure_scheme_headers: dict[str, str] = {}
# A process that answered many requests is replaced, at another count each.
max_requests, max_requests_jitter = 20_000, 4_000
proc_name = "verify-loop"
errorlog = "-"
logconfig_dict = settings.LOGGING


#: What watches over background tasks.
beside: list[subprocess.Popen[bytes]] = []


def when_ready(server: object) -> None:
    """Hold the records against the heads outside, and start what does background tasks."""
    if settings.HEADS:
        # Whoever waits for the first answer goes first.
        heads = ["nice", sys.executable, "manage.py", "heads", "--no-send"]
        subprocess.Popen(heads, cwd=settings.BASE_DIR)
    if settings.BACKGROUND == "worker":
        beside.append(
            subprocess.Popen([sys.executable, "-m", "verifyloop.background"], cwd=settings.BASE_DIR)
        )


def on_exit(server: object) -> None:
    """End what was started beside it."""
    for one in beside:
        one.terminate()
