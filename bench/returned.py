#!/usr/bin/env python3
"""What came back, held to what was sent. Needs numpy. Makes its material in a temporary folder.

Usage: bench/returned.py speed [prints] [minutes]   times one part that came back, and a new one, against so many prints (24 bit, 48 kHz), process start to end
       bench/returned.py cases [count] [seed]       so many files of 3 to 25 s, cut from 9 prints of a minute and treated; counts what is called sure and what of that is wrong
"""
import contextlib
import os
import re
import struct
import subprocess
import sys
import tempfile
import time

import numpy as np

LYRO = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "lyro")
RATE = 48_000


def wave(path, samples, rate=RATE):
    data = np.round(np.clip(samples, -1, 1) * 8_388_607).astype("<i4").view(np.uint8).reshape(-1, 4)[:, :3].tobytes()
    with open(path, "wb") as f:
        f.write(b"RIFF" + struct.pack("<I", 36 + len(data)) + b"WAVEfmt " + struct.pack("<IHHIIHH", 16, 1, 1, rate, rate * 3, 3, 24) + b"data" + struct.pack("<I", len(data)) + data)


def sound(dice, frames):
    """Tones that are struck or swell, and bursts of noise, at irregular places."""
    result, at, kind = np.zeros(frames), 0, dice.integers(0, 3)
    while at < frames - RATE:
        n = int(RATE * dice.uniform(0.2, 1.0))
        t = np.arange(n) / RATE
        hz = 110 * 2 ** (dice.integers(0, 36) / 12)
        tone = sum(np.sin(2 * np.pi * hz * k * t) / k for k in range(1, 6)) if dice.random() < (0.9, 0.7, 0.3)[kind] else dice.standard_normal(n)
        shape = np.exp(-t / dice.uniform(0.05, 0.4)) if kind else np.sin(np.pi * t * RATE / n) ** 2
        result[at:at + n] += 0.2 * dice.uniform(0.2, 1) * tone * shape
        at += int(RATE * dice.uniform(0.1, 1.5))
    return result / max(1, np.abs(result).max() * 1.05)


def looped(dice, frames):
    """One bar of two seconds, again and again."""
    bar = sound(dice, 3 * RATE)[:2 * RATE]
    return np.tile(bar, frames // len(bar) + 1)[:frames]


def rms(samples):
    return np.sqrt(np.mean(samples ** 2)) + 1e-12


def filtered(samples, a, high):
    """Through one pole, exactly."""
    size = len(samples) + RATE
    turn = np.exp(-2j * np.pi * np.arange(size // 2 + 1) / size)
    low = a / (1 - (1 - a) * turn)
    return np.fft.irfft(np.fft.rfft(samples, size) * ((1 - low) if high else low), size)[:len(samples)]


def faster(whole, start, count, speed):
    """Sample n is the one at start + n × speed, between samples by a window of 64."""
    at = start + np.arange(count) * speed
    base = np.floor(at).astype(int)
    result = np.zeros(count)
    for k in range(-31, 33):
        x = at - (base + k)
        index = base + k
        good = (index >= 0) & (index < len(whole))
        result[good] += whole[index[good]] * np.sinc(x[good]) * np.cos(np.pi * x[good] / 66) ** 2
    return result


def run(folder, files):
    begun = time.monotonic()
    out = subprocess.run([LYRO, "returned", f"{folder}/sent", *files], capture_output=True, text=True)
    if out.returncode not in (0, 2):
        raise SystemExit(out.stdout + out.stderr)
    return out.stdout, time.monotonic() - begun


def made():
    return contextlib.nullcontext(os.environ["KEEP"]) if "KEEP" in os.environ else tempfile.TemporaryDirectory()


def speed(prints, minutes):
    with made() as folder:
        dice = np.random.default_rng(7)
        os.makedirs(f"{folder}/sent", exist_ok=True)
        few = [sound(dice, minutes * 60 * RATE) for _ in range(4)]
        for i in range(prints):
            # Others are made of a few: another place of them first, every other backwards, since new ones take long to make.
            samples = np.roll(few[i % 4], int(dice.integers(0, len(few[0]))))[::1 if i % 8 < 4 else -1]
            wave(f"{folder}/sent/print {i:02}.wav", samples)
            if i == prints // 2:
                wave(f"{folder}/part.wav", 0.7 * samples + 0.01 * dice.standard_normal(len(samples)))
        wave(f"{folder}/new.wav", sound(dice, minutes * 60 * RATE))
        for name in ("part", "new"):
            out, seconds = run(folder, [f"{folder}/{name}.wav"])
            print(f"{seconds:.1f} s  {out.strip()}", flush=True)


def case(dice, prints, i):
    """The kind, the samples, the rate that they are said to be of, the print that they are of and the place of their first; no print where they are of none or of several."""
    of, count = int(dice.integers(0, len(prints))), int(RATE * dice.uniform(3, 25))
    start = int(dice.integers(-RATE, len(prints[0]) - count + RATE))
    piece = np.zeros(count)
    low, high = max(0, start), min(len(prints[0]), start + count)
    piece[low - start:high - start] = prints[of][low:high]
    kind = ("as it is", "louder or inverted", "noise", "other parts", "filter", "compressor", "drift", "new", "44.1 for 48", "sum", "short", "short with noise", "short new")[i % 13]
    if kind == "louder or inverted":
        piece = piece * dice.choice([-1, 1]) * 10 ** (dice.uniform(-18, 6) / 20)
    elif kind == "noise":
        piece = piece + rms(piece) * dice.standard_normal(count)
    elif kind == "other parts":
        for _ in range(3):
            other = sound(dice, max(count, 2 * RATE))[:count]
            piece = piece + other * rms(piece) / rms(other)
    elif kind == "filter":
        piece = filtered(piece, dice.uniform(0.02, 0.5), bool(dice.integers(0, 2)))
    elif kind == "compressor":
        piece = np.tanh(piece / rms(piece) * dice.uniform(0.3, 1.5)) / 3
    elif kind == "drift":
        piece = faster(prints[of], start, count, 1 + dice.uniform(-100, 100) / 1e6)
    elif kind == "new":
        return kind, sound(dice, count), RATE, None, 0
    elif kind == "44.1 for 48":
        return kind, faster(prints[of], start, count, 48 / 44.1), RATE, of, start
    elif kind == "sum":
        other = (of + 1 + int(dice.integers(0, len(prints) - 1))) % len(prints)
        second = np.zeros(count)
        second[low - start:high - start] = prints[other][low:high]
        piece = piece + second
        return kind, piece / max(1, np.abs(piece).max()), RATE, (of, other), start
    elif kind == "short":
        piece = piece[:int(RATE * dice.uniform(0.2, 1.5))]
    elif kind == "short with noise":
        piece = piece[:int(RATE * dice.uniform(0.5, 3))]
        piece = piece + 10 ** (dice.uniform(-40, 0) / 20) * rms(piece) * dice.standard_normal(len(piece))
    elif kind == "short new":
        return kind, sound(dice, 3 * RATE)[:int(RATE * dice.uniform(0.2, 2))], RATE, None, 0
    return kind, piece / max(1, 1.01 * np.abs(piece).max()), RATE, of, start


def cases(count, seed):
    with made() as folder:
        dice = np.random.default_rng(seed)
        os.makedirs(f"{folder}/sent")
        prints = [sound(dice, 60 * RATE) for _ in range(8)] + [looped(dice, 60 * RATE)]
        for i, samples in enumerate(prints):
            wave(f"{folder}/sent/print {i}.wav", samples)
        known, files = [], []
        for i in range(count):
            kind, samples, rate, of, start = case(dice, prints, i)
            files.append(f"{folder}/case {i}.wav")
            wave(files[-1], samples, rate)
            known.append((kind, of, start))
        out, seconds = run(folder, files)
        lines = {int(n): text.replace("\u202f", "") for n, text in re.findall(r"^case (\d+)\.wav: (.*)$", out, re.M)}
        table, wrong = {}, []
        for i, (kind, of, start) in enumerate(known):
            line = lines[i]
            row = table.setdefault(kind, [0, 0, 0, 0.0])
            row[0] += 1
            if not line.startswith(("Of ", "A sum of ")):
                continue
            row[1] += 1
            named = {int(n) for n in re.findall(r"print (\d+)", line.split(" the start")[0])}
            place = 0 if "from the same start" in line else (-1 if "before the start" in line else 1) * int(re.search(r"(\d+) samples (after|before) the start", line)[1])
            exact = re.search(r"the start \(([+−])([\d.]+)\)", line)
            place = place if exact is None else (-1 if exact[1] == "−" else 1) * float(exact[2])
            wanted = set() if of is None else set(of) if isinstance(of, tuple) else {of}
            bound = 24 if kind in ("filter", "compressor") else 1.5 if kind == "44.1 for 48" else 1
            row[3] = max(row[3], abs(place - start)) if wanted else row[3]
            if named != wanted or abs(place - start) > bound:
                row[2] += 1
                wrong.append(f"case {i} ({kind}, of {of} at {start}): {line}")
        print("| case | files | sure | wrong | farthest off, samples |\n|---|---|---|---|---|")
        for kind, (files_, sure, bad, far) in table.items():
            print(f"| {kind} | {files_} | {sure} | {bad} | {far:.2f} |")
        print(f"{seconds:.0f} s", *wrong, sep="\n")
        if "SHOW" in os.environ:
            print(*(f"{i} {known[i]}: {lines[i]}" for i in range(count)), sep="\n")


def main():
    what, *numbers = sys.argv[1:] or ["speed"]
    (cases if what == "cases" else speed)(*[int(n) for n in numbers + (["500", "5"] if what == "cases" else ["48", "10"])[len(numbers):]])


main()
