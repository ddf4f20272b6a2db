"""How gunicorn serves it: ``gunicorn -c python:verifyloop.serving verifyloop.wsgi``.

On SIGTERM no new request is taken and those under way are answered; on SIGHUP each process is
replaced by one with the files as they are now.
"""

import os

from verifyloop.edge.log import configured
from verifyloop.environment import Environment

_said = Environment(os.environ)

bind = _said.text("BIND", "127.0.0.1:8000")
workers = _said.number("WORKERS", 2, 1, 64)
threads = _said.number("THREADS", 4, 1, 64)
worker_class = "gthread"
# A list of 30,000 rows takes half a minute to store; a process that stands still longer is ended.
timeout = 120
graceful_timeout = 60
keepalive = 20
# What a proxy says is looked at by verifyloop/edge/proxied.py, which knows whose word is taken.
forwarded_allow_ips = ""
secure_scheme_headers: dict[str, str] = {}
# A process that answered many requests is replaced, at another count each.
max_requests, max_requests_jitter = 20_000, 4_000
proc_name = "verify-loop"
errorlog = "-"
logconfig_dict = configured(_said.one_of("LOG", "text", "json"))
