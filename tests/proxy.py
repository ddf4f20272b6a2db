"""The product as a site runs it: by the files in ``deploy/``, behind nginx, on loopback."""

from __future__ import annotations

import http.client
import json
import os
import signal
import ssl
import subprocess
import time
from datetime import timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from django.utils import timezone

from tests.process import ROOT, RealServer, free_port

HOST = "loops.works.example"
NGINX = next((p for p in ("/usr/sbin/nginx", "/usr/bin/nginx") if Path(p).exists()), "")
#: What stands around a site's file in Debian's nginx, with places of its own.
AROUND = """
{user} daemon off; pid {folder}/nginx.pid; error_log {folder}/nginx.log;
events {{}}
http {{
  access_log off;
  client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy;
  fastcgi_temp_path {folder}/f; uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
  {site}
}}
"""


def certificate(folder: Path) -> tuple[Path, Path]:
    """Make a certificate that nobody but the test trusts; return it and its key."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, HOST)])
    now = timezone.now()
    made = (
        x509.CertificateBuilder(name, name, key.public_key(), x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=1))
        .add_extension(x509.SubjectAlternativeName([x509.DNSName(HOST)]), critical=False)
        .sign(key, hashes.SHA256())
    )
    pem = serialization.Encoding.PEM
    plain = serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    (folder / "site.pem").write_bytes(made.public_bytes(pem))
    (folder / "site.key").write_bytes(key.private_bytes(pem, *plain))
    return folder / "site.pem", folder / "site.key"


class ProxiedServer(RealServer):
    """The real server on a socket, and nginx before it, below a path of another host."""

    def __init__(self, path: str = "/", workers: int = 2) -> None:
        super().__init__()
        self.path, self.https, self.http = path, free_port(), free_port()
        self.address = f"https://{HOST}:{self.https}{path}"
        self.environment |= {
            "VERIFYLOOP_ADDRESS": self.address,
            "VERIFYLOOP_BIND": f"unix:{self.folder}/socket",
            "VERIFYLOOP_WORKERS": str(workers),
        }
        self.nginx: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start both and wait until the product says that it can work."""
        self.launch()
        self.nginx = subprocess.Popen([NGINX, "-c", str(self.site()), "-p", self.folder])
        until = time.monotonic() + 60
        while time.monotonic() < until:
            try:
                status, _, said = self.get(f"{self.path}health/ready")
                if status == 200:
                    return
            except OSError:
                said = b""
            time.sleep(0.1)
        raise RuntimeError(f"it is not ready: {said!r}")

    def site(self) -> Path:
        """Write the site's file for nginx with this server's names, and what stands around it."""
        pem, key = certificate(Path(self.folder))
        text = (ROOT / "deploy/nginx.conf").read_text()
        for old, new in (
            ("/run/verify-loop/socket", f"{self.folder}/socket"),
            ("listen 443 ssl", f"listen 127.0.0.1:{self.https} ssl"),
            ("listen 80", f"listen 127.0.0.1:{self.http}"),
            ("/etc/ssl/certs/loops.works.example.pem", str(pem)),
            ("/etc/ssl/private/loops.works.example.key", str(key)),
            ("location / {", f"location {self.path} {{"),
            ("location /health/ {", f"location {self.path}health/ {{"),
        ):
            if old not in text:
                raise RuntimeError(f"deploy/nginx.conf says nothing of {old}")
            text = text.replace(old, new)
        user = "user root;" if os.geteuid() == 0 else ""
        place = Path(self.folder) / "nginx.conf"
        place.write_text(AROUND.format(user=user, folder=self.folder, site=text))
        return place

    def get(self, path: str, **headers: str) -> tuple[int, dict[str, str], bytes]:
        """Ask through the proxy; return status, headers and body."""
        trusting = ssl.create_default_context(cafile=f"{self.folder}/site.pem")
        trusting.check_hostname = False
        connection = http.client.HTTPSConnection("127.0.0.1", self.https, context=trusting)
        connection.request("GET", path, headers={"Host": f"{HOST}:{self.https}", **headers})
        answer = connection.getresponse()
        return answer.status, {k.lower(): v for k, v in answer.getheaders()}, answer.read()

    def json(self, path: str) -> object:
        """Ask for what is JSON."""
        return json.loads(self.get(path)[2])

    def close(self) -> None:
        """End both."""
        if self.nginx:
            self.nginx.send_signal(signal.SIGTERM)
            self.nginx.wait()
        super().close()
