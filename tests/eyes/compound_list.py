#!/usr/bin/python3
"""Prints every stream of a compound file with its size and SHA-256, as JSON; read by python3-olefile."""
import hashlib
import json
import sys

import olefile

ole = olefile.OleFileIO(sys.argv[1])
streams = {}
for path in ole.listdir(streams=True, storages=False):
    data = ole.openstream(path).read()
    streams["/".join(path)] = [len(data), hashlib.sha256(data).hexdigest()]
print(json.dumps(streams))
