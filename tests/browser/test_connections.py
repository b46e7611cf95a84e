"""Connections that do nothing must not keep anybody out."""

import socket
import urllib.request

import pytest

pytestmark = pytest.mark.browser


def test_three_hundred_idle_connections_keep_nobody_out(server):
    idle = [socket.create_connection(("127.0.0.1", server.port), timeout=5) for _ in range(300)]
    try:
        for connection in idle[::3]:
            connection.sendall(b"GET /pieces/ HTTP/1.1\r\nHost: 127")  # and never the rest of it
        assert urllib.request.urlopen(f"{server.url}/account/sign-in/", timeout=10).status == 200
    finally:
        for connection in idle:
            connection.close()
