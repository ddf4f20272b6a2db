"""A small stand-in for a site's own sign-in: OpenID Connect over HTTP on this machine alone."""

from __future__ import annotations

import json
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs, urlencode, urlsplit

import jwt
from cryptography.hazmat.primitives.asymmetric import rsa
from jwt.algorithms import RSAAlgorithm

CLIENT, SECRET = "verify-loop", "a-secret-of-the-test"


class StandIn:
    """Lets in whoever it is told to, and signs what it says."""

    def __init__(self):
        self.key = rsa.generate_private_key(public_exponent=65537, key_size=2048)
        self.signed_by = self.key
        self.claims = {}
        #: what is put otherwise into the next ID token
        self.other = {}
        self.codes = {}
        handler = type("Handler", (_Handler,), {"stand_in": self})
        self.server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
        self.address = f"http://127.0.0.1:{self.server.server_address[1]}"
        threading.Thread(target=self.server.serve_forever, daemon=True).start()

    def settings(self):
        return {
            "OIDC_RP_CLIENT_ID": CLIENT,
            "OIDC_RP_CLIENT_SECRET": SECRET,
            "OIDC_ISSUER": self.address,
            "OIDC_OP_AUTHORIZATION_ENDPOINT": f"{self.address}/authorize",
            "OIDC_OP_TOKEN_ENDPOINT": f"{self.address}/token",
            "OIDC_OP_USER_ENDPOINT": f"{self.address}/userinfo",
            "OIDC_OP_JWKS_ENDPOINT": f"{self.address}/keys",
        }

    def close(self):
        self.server.shutdown()
        self.server.server_close()

    def id_token(self, nonce):
        now = int(time.time())
        said = {"iss": self.address, "aud": CLIENT, "sub": "1", "nonce": nonce, "iat": now}
        said |= {"exp": now + 60, **self.other}
        return jwt.encode(said, self.signed_by, algorithm="RS256", headers={"kid": "one"})


class _Handler(BaseHTTPRequestHandler):
    stand_in: StandIn

    def do_GET(self):
        place = urlsplit(self.path)
        asked = {k: v[0] for k, v in parse_qs(place.query).items()}
        if place.path == "/authorize":
            code = f"code-{len(self.stand_in.codes)}"
            self.stand_in.codes[code] = asked
            back = urlencode({"code": code, "state": asked["state"]})
            self.send_response(302)
            self.send_header("Location", f"{asked['redirect_uri']}?{back}")
            self.end_headers()
        elif place.path == "/keys":
            key = json.loads(RSAAlgorithm.to_jwk(self.stand_in.key.public_key()))
            self.say({"keys": [{**key, "kid": "one", "alg": "RS256", "use": "sig"}]})
        else:
            self.say(self.stand_in.claims)

    def do_POST(self):
        sent = self.rfile.read(int(self.headers["Content-Length"])).decode()
        asked = {k: v[0] for k, v in parse_qs(sent).items()}
        known = self.stand_in.codes.pop(asked.get("code"), None)
        if known is None or asked.get("client_secret") != SECRET:
            self.say({"error": "invalid_grant"}, 400)
            return
        token = self.stand_in.id_token(known["nonce"])
        self.say({"access_token": "a", "token_type": "Bearer", "id_token": token})

    def say(self, what, status=200):
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.end_headers()
        self.wfile.write(json.dumps(what).encode())

    def log_message(self, *args):
        """Say nothing."""
