"""Refuses every network socket of the tests and of the programs they start."""

import socket


class NetworkRefused(RuntimeError):
    """The program and its tests use no network."""


def _refuse(*_arguments, **_options):
    raise NetworkRefused("the program and its tests use no network")


socket.socket.connect = _refuse
socket.socket.connect_ex = _refuse
socket.socket.bind = _refuse
socket.socket.sendto = _refuse
socket.create_connection = _refuse
socket.getaddrinfo = _refuse
