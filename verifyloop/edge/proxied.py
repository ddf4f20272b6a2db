"""Behind a proxy: who asks, by which scheme, below which path."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from ipaddress import IPv4Network, IPv6Network, ip_address
from typing import Any

Networks = Sequence[IPv4Network | IPv6Network]
Answer = Iterable[bytes]
Application = Callable[[dict[str, Any], Callable[..., Any]], Answer]


class Proxied:
    """A WSGI application as the person before the proxy sees it.

    Only a proxy that is named is believed: anybody else could write what they like into a header.
    """

    def __init__(self, application: Application, *, base: str, proxies: Networks) -> None:
        self.application = application
        self.prefix = base.rstrip("/")
        self.proxies = proxies

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Answer:
        """Answer a request."""
        # By a socket of this machine there is no address: who may open the file is the proxy.
        if self._trusted(environ.get("REMOTE_ADDR", "")):
            self._believe(environ)
        path = environ.get("PATH_INFO", "")
        if self.prefix and path == self.prefix:
            # Everything lies below the path, the page that the browser keeps included.
            query = environ.get("QUERY_STRING", "")
            there = f"{self.prefix}/" + (f"?{query}" if query else "")
            start_response("301 Moved Permanently", [("Location", there)])
            return []
        if path.startswith(f"{self.prefix}/"):
            environ["PATH_INFO"] = path[len(self.prefix) :] or "/"
        environ["SCRIPT_NAME"] = self.prefix
        return self.application(environ, start_response)

    def _believe(self, environ: dict[str, Any]) -> None:
        environ["wsgi.url_scheme"] = (
            "https" if environ.get("HTTP_X_FORWARDED_PROTO", "").strip() == "https" else "http"
        )
        # The last address that is no proxy's own: what stands before it anybody may have written.
        for said in reversed(environ.get("HTTP_X_FORWARDED_FOR", "").split(",")):
            if not _is_address(said.strip()):
                return
            environ["REMOTE_ADDR"] = said.strip()
            if not self._trusted(said.strip()):
                return

    def _trusted(self, said: str) -> bool:
        if not said:
            return True
        return _is_address(said) and any(ip_address(said) in net for net in self.proxies)


def _is_address(said: str) -> bool:
    try:
        ip_address(said)
    except ValueError:
        return False
    return True
