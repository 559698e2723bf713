"""Behind a proxy that speaks https: signed in to through it, with its word taken for the scheme and nobody else's."""

from __future__ import annotations

import http.client
import json
import os
import socket
import ssl
import subprocess
import sys
import tempfile
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any, ClassVar
from unittest import TestCase

import trustme
from django.test import tag

from tests.prepared import copy_of
from tests.warm import begin, call, rasante

ROOT = Path(__file__).resolve().parents[2]
NAME = "tanks.example"


class TlsProxy(BaseHTTPRequestHandler):
    """Hands every request on as plain HTTP, and says with which scheme and from where it came."""

    behind: ClassVar[int]
    scheme = "https"

    def hand_on(self) -> None:
        body = self.rfile.read(int(self.headers.get("Content-Length", "0")))
        headers = {name: value for name, value in self.headers.items() if not name.lower().startswith("x-forwarded")}
        headers |= {"X-Forwarded-Proto": self.scheme, "X-Forwarded-For": self.client_address[0]}
        far = http.client.HTTPConnection("127.0.0.1", self.behind, timeout=30)
        far.request(self.command, self.path, body, headers)
        answer = far.getresponse()
        content = answer.read()
        self.send_response(answer.status)
        for name, value in answer.getheaders():
            if name.lower() not in ("transfer-encoding", "connection", "date", "server", "content-length"):
                self.send_header(name, value)
        self.send_header("Content-Length", str(len(content)))
        self.end_headers()
        self.wfile.write(content)

    do_GET = do_POST = do_DELETE = hand_on

    def log_message(self, format: str, *args: Any) -> None:
        """Say nothing."""


@tag("slow")
class BehindAProxy(TestCase):
    def serve(self, **environment: str) -> int:
        """Start the application; its port."""
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = int(probe.getsockname()[1])
        with_data = {**os.environ, "RASANTE_DATA": folder.name, "RASANTE_HOSTS": NAME, **environment}
        with_data.pop("DJANGO_SETTINGS_MODULE", None)
        copy_of("migrated", folder.name)
        call(["person", "ann", "--name", "Ann Ash"], with_data, "a-long-secret\n").check_returncode()
        process = begin(rasante, ["serve", "--port", str(port)], with_data)
        self.addCleanup(process.join)
        self.addCleanup(process.terminate)
        deadline = time.monotonic() + 120
        while time.monotonic() < deadline:
            try:
                socket.create_connection(("127.0.0.1", port), timeout=1).close()
                return port
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("the server did not start")

    def proxy(self, behind: int) -> tuple[int, ssl.SSLContext]:
        """Start a proxy; its port, and what a client trusts."""
        authority = trustme.CA()
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        authority.issue_cert(NAME, "127.0.0.1").configure_cert(context)
        handler = type("Proxy", (TlsProxy,), {"behind": behind})
        server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
        server.socket = context.wrap_socket(server.socket, server_side=True)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        trusting = ssl.create_default_context()
        authority.configure_trust(trusting)
        return server.server_address[1], trusting

    def sign_in(self, port: int, context: ssl.SSLContext | None, **headers: str) -> tuple[int, str, str]:
        """Ask for the token, then sign in as a browser does; status, body and cookies."""
        kind = http.client.HTTPSConnection if context else http.client.HTTPConnection
        options: dict[str, Any] = {"context": context} if context else {}
        line = kind("127.0.0.1", port, timeout=60, **options)
        line.request("GET", "/api/session/", headers={"Host": NAME, **headers})
        answer = line.getresponse()
        answer.read()
        cookies = "; ".join(one.split(";")[0] for one in answer.headers.get_all("Set-Cookie") or [])
        token = cookies.partition("csrftoken=")[2].partition(";")[0]
        scheme = "https" if context else "http"
        body = json.dumps({"username": "ann", "password": "a-long-secret"})
        line.request(
            "POST",
            "/api/session/",
            body,
            {
                "Host": NAME,
                "Origin": f"{scheme}://{NAME}",
                "Referer": f"{scheme}://{NAME}/sign-in",
                "Content-Type": "application/json",
                "Cookie": cookies,
                "X-CSRFToken": token,
                **headers,
            },
        )
        answer = line.getresponse()
        text = answer.read().decode()
        return answer.status, text, "\n".join(answer.headers.get_all("Set-Cookie") or [])

    def test_signed_in_through_the_proxy_and_not_beside_it(self) -> None:
        port = self.serve(RASANTE_HTTPS="1")
        outside, trusting = self.proxy(port)
        status, body, cookies = self.sign_in(outside, trusting)
        self.assertEqual(status, 200, body)
        self.assertIn("Ann Ash", body)
        self.assertIn("sessionid", cookies)
        self.assertEqual(cookies.count("Secure"), cookies.count("\n") + 1)
        # Whoever comes with plain http is sent to https, whatever path it came by.
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        line.request("GET", "/tanks", headers={"Host": NAME})
        answer = line.getresponse()
        answer.read()
        self.assertEqual((answer.status, answer.getheader("Location")), (301, f"https://{NAME}/tanks"))
        over_tls = http.client.HTTPSConnection("127.0.0.1", outside, timeout=60, context=trusting)
        over_tls.request("GET", "/sign-in", headers={"Host": NAME})
        answer = over_tls.getresponse()
        answer.read()
        self.assertGreaterEqual(
            int(answer.getheader("Strict-Transport-Security", "max-age=0").split("=")[1]), 31_000_000
        )

    def test_what_another_than_the_proxy_says_of_itself_counts_for_nothing(self) -> None:
        port = self.serve(RASANTE_HTTPS="1", RASANTE_PROXY="192.0.2.7")
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        line.request("GET", "/sign-in", headers={"Host": NAME, "X-Forwarded-Proto": "https"})
        self.assertEqual(line.getresponse().status, 301)

    def test_the_deployment_check_is_clean(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            environment = {**os.environ, "RASANTE_DATA": folder, "RASANTE_HOSTS": NAME, "RASANTE_HTTPS": "1"}
            environment["DJANGO_SETTINGS_MODULE"] = "rasante.settings"
            # Tests in a browser that ran in this process before have set it for themselves.
            environment.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)
            done = subprocess.run(
                [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"],
                cwd=ROOT, env=environment, capture_output=True, text=True, check=False,
            )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr)
