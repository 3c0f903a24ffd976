#!/usr/bin/env python3
"""Times files of many clips, each from process start to end, and the copy of embedded sound against cp.

Usage: bench/clips.py [aaf|omf|otio] [clips ...]     Default: aaf 20000 100000. Prints a table in Markdown.
"""
import json
import os
import resource
import struct
import subprocess
import sys
import tempfile
import time

LYRO = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "lyro")
GIGABYTE = 1_000_000_000


def session(clips, tracks=40):
    """Clips side by side on every track: half with a gain, a quarter with fades, a tenth crossing the next."""
    media = [{"id": f"m{t}", "fileName": f"track {t}.wav", "rate": "48000", "encoding": "integer 24", "channels": 1, "length": 100_000_000, "place": "missing"} for t in range(tracks)]
    result = []
    for t in range(tracks):
        lane, at = [], 0
        for i in range(clips // tracks):
            cross = i % 10 == 9
            clip = {"id": f"t{t}c{i}", "name": f"clip {i}", "media": f"m{t}", "channelMap": [0], "start": at, "length": 4801, "sourceOffset": i * 5003}
            if i % 2:
                clip["gainDb"] = -3.5
            if i % 4 == 0:
                clip["fadeIn"] = {"length": 240, "shape": "linear"}
            if cross:
                clip["fadeOut"] = {"length": 480, "shape": "equal power"}
            if i % 10 == 0 and i > 0:
                clip["fadeIn"] = {"length": 480, "shape": "equal power"}
            lane.append(clip)
            at += 4801 - (480 if cross else 0) + (100 if i % 3 == 0 and not cross else 0)
        result.append({"id": f"t{t}", "name": f"Track {t}", "kind": "audio", "channels": 1, "lanes": [{"name": "main", "clips": lane}]})
    return {"lyrotransSession": 1, "name": "many clips", "rate": "48000", "depth": "integer 24", "frameRate": "25", "start": "10:00:00:00", "bar1": 0,
            "tempo": [{"quarter": "0", "quartersPerMinute": "120"}], "meters": [{"bar": 1, "beats": 4, "beatUnit": 4}], "media": media, "tracks": result}


def timed(*command):
    """Seconds of the best of three, and the most memory of any child so far in MB."""
    best = None
    for _ in range(3):
        start = time.perf_counter()
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        best = min(best or 1e9, time.perf_counter() - start)
    return best


def measured(*command):
    """Seconds and the largest resident memory in MB of one run."""
    start = time.perf_counter()
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    _, status, usage = os.wait4(process.pid, 0)
    assert status == 0, command
    return time.perf_counter() - start, usage.ru_maxrss / 1000


def wave(path, size):
    """A sparse WAVE file of 24-bit mono silence, except where a few blocks hold numbers."""
    frames = size // 3
    with open(path, "wb") as f:
        if frames * 3 + 36 > 0xFFFFFFFF:
            f.write(b"RF64" + struct.pack("<I", 0xFFFFFFFF) + b"WAVE" + b"ds64" + struct.pack("<IQQQI", 28, frames * 3 + 72, frames * 3, frames, 0))
        else:
            f.write(b"RIFF" + struct.pack("<I", 36 + frames * 3) + b"WAVE")
        f.write(b"fmt " + struct.pack("<IHHIIHH", 16, 1, 1, 48000, 144000, 3, 24) + b"data" + struct.pack("<I", min(frames * 3, 0xFFFFFFFF)))
        block = os.urandom(1 << 22)
        left = frames * 3
        while left > 0:
            f.write(block[:min(left, len(block))])
            left -= len(block)
    return frames


def main():
    form = next((a for a in sys.argv[1:] if not a.isdigit()), "aaf")
    counts = [int(a) for a in sys.argv[1:] if a.isdigit()] or [20_000, 100_000]
    folder = tempfile.mkdtemp(prefix="lyro-bench-")
    rows = []
    subprocess.run([LYRO, "--help"], stdout=subprocess.DEVNULL)
    for clips in counts:
        source, made = f"{folder}/{clips}.session.json", f"{folder}/{clips}.{form}"
        with open(source, "w") as f:
            json.dump(session(clips), f)
        rows.append((f"write {form.upper()} of {clips} clips (session document in)", f"{timed(LYRO, 'convert', source, made):.2f} s"))
        rows.append((f"read it (`lyro inspect`), {os.path.getsize(made) / 1e6:.0f} MB", f"{timed(LYRO, 'inspect', made):.2f} s"))
    for size, name in ((GIGABYTE, "1 GB"), (2_100_000_000, "2.1 GB") if form == "omf" else (4_400_000_000, "4.4 GB")):
        sound = f"{folder}/long.wav"
        frames = wave(sound, size)
        one = {"lyrotransSession": 1, "name": "one", "rate": "48000", "depth": "integer 24", "frameRate": "25", "start": "10:00:00:00", "bar1": 0,
               "tempo": [{"quarter": "0", "quartersPerMinute": "120"}], "meters": [{"bar": 1, "beats": 4, "beatUnit": 4}],
               "media": [{"id": "m", "fileName": "long.wav", "rate": "48000", "encoding": "integer 24", "channels": 1, "length": frames, "place": "beside"}],
               "tracks": [{"id": "t", "name": "T", "kind": "audio", "channels": 1, "lanes": [{"name": "main", "clips": [{"id": "c", "name": "c", "media": "m", "channelMap": [0], "start": 0, "length": frames, "sourceOffset": 0}]}]}]}
        with open(f"{folder}/one.session.json", "w") as f:
            json.dump(one, f)
        copied, _ = measured("cp", sound, f"{folder}/copy.wav")
        os.remove(f"{folder}/copy.wav")
        wrote, memory = measured(LYRO, "convert", f"{folder}/one.session.json", f"{folder}/one.{form}")
        rows.append((f"{'put beside it' if form == 'otio' else 'embed'} {name} of sound (`cp` of it: {copied:.2f} s), memory {memory:.0f} MB", f"{wrote:.2f} s"))
        os.remove(sound)
        took, memory = measured(LYRO, "convert", f"{folder}/one.{form}", f"{folder}/back/one.session.json")
        rows.append((f"take it out again and copy it to the document's folder, memory {memory:.0f} MB", f"{took:.2f} s"))
        for path in (f"one.{form}", "back/media/long.wav"):
            if os.path.exists(f"{folder}/{path}"):
                os.remove(f"{folder}/{path}")
    print("| what | measured |\n| --- | --- |")
    for what, result in rows:
        print(f"| {what} | {result} |")


if __name__ == "__main__":
    main()
