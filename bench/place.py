#!/usr/bin/env python3
"""48 files of 5 minutes (24 bit, 48 kHz), cut at their first sound, found in one mix of them that is 6 minutes long; each at a level and polarity of its own. Needs numpy.

Usage: bench/place.py [files] [minutes]     Makes its material in a temporary folder, about 48 MB a file. Prints what the bench prints, and how many lie where they were put.
"""
import os
import re
import struct
import subprocess
import sys
import tempfile

import numpy as np

HERE = os.path.dirname(os.path.abspath(__file__))
RATE = 48_000


def wave(path, samples):
    data = np.round(np.clip(samples, -1, 1) * 8_388_607).astype("<i4").view(np.uint8).reshape(-1, 4)[:, :3].tobytes()
    with open(path, "wb") as f:
        f.write(b"RIFF" + struct.pack("<I", 36 + len(data)) + b"WAVEfmt " + struct.pack("<IHHIIHH", 16, 1, 1, RATE, RATE * 3, 3, 24) + b"data" + struct.pack("<I", len(data)) + data)


def sound(dice, frames):
    """Decaying tones and bursts of noise at irregular places."""
    result, at = np.zeros(frames), 0
    while at < frames - RATE:
        n = int(RATE * dice.uniform(0.2, 1.0))
        t = np.arange(n) / RATE
        hz = 110 * 2 ** (dice.integers(0, 36) / 12)
        tone = sum(np.sin(2 * np.pi * hz * k * t) / k for k in range(1, 6)) if dice.random() < 0.7 else dice.standard_normal(n)
        result[at:at + n] += 0.2 * dice.uniform(0.2, 1) * tone * np.exp(-t / dice.uniform(0.05, 0.4))
        at += int(RATE * dice.uniform(0.1, 1.5))
    return result


def main():
    files, minutes = (int(a) for a in (sys.argv[1:] + ["48", "5"][len(sys.argv) - 1:]))
    dice = np.random.default_rng(7)
    import contextlib
    with (contextlib.nullcontext(os.environ["KEEP"]) if "KEEP" in os.environ else tempfile.TemporaryDirectory()) as folder:
        frames = minutes * 60 * RATE
        mix, places = np.zeros(frames + 60 * RATE), []
        for i in range(files):
            samples, place = sound(dice, frames), int(dice.integers(0, 60 * RATE))
            wave(f"{folder}/file{i:02}.wav", samples)
            mix[place:place + frames] += samples * dice.uniform(0.3, 1.5) * dice.choice([-1, 1])
            places.append(place)
        wave(f"{folder}/mix.wav", mix / (1.01 * np.abs(mix).max()))
        bench = os.path.join(HERE, "Lyrotrans.Bench", "bin", "Release", "net10.0", "Lyrotrans.Bench")
        out = subprocess.run([bench, "place", f"{folder}/mix.wav", *(f"{folder}/file{i:02}.wav" for i in range(files))], check=True, capture_output=True, text=True).stdout
        print(out)
        found = {int(n): float(at) for n, at in re.findall(r"file(\d+).wav: (-?[\d.]+)", out)}
        print(f"{sum(abs(found[i] - place) < 1 for i, place in enumerate(places) if i in found)} of {files} within a sample")


main()
