#!/usr/bin/env python3
"""Peaks of 1 GB of sound (24 bit, 48 kHz, four files) against sha256sum of it: both on one processor, then both on all. Prints a table in Markdown.

Usage: bench/peaks.py [gigabytes]     Makes its material in a temporary folder.
"""
import os
import random
import subprocess
import sys
import tempfile
import time
import prints

HERE = os.path.dirname(os.path.abspath(__file__))


def best(rounds, command):
    times = []
    for _ in range(rounds):
        start = time.monotonic()
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL)
        times.append(time.monotonic() - start)
    return min(times)


def ours(what, threads, files):
    lines = subprocess.run(["dotnet", "run", "--project", f"{HERE}/Lyrotrans.Bench", "-c", "Release", "--", what, str(threads), *files], check=True, capture_output=True, text=True).stdout
    return min(float(line.split()[0]) for line in lines.splitlines())


def main():
    size = float(sys.argv[1]) if len(sys.argv) > 1 else 1
    with tempfile.TemporaryDirectory() as folder:
        files = [f"{folder}/{i}.wav" for i in range(4)]
        for i, file in enumerate(files):
            prints.wave(file, int(size * 1e9 / 4 / 3 / prints.RATE) * prints.RATE, i)
        total, cores = sum(os.path.getsize(f) for f in files), os.cpu_count()
        rows = [("`sha256sum`, one process", best(3, ["sha256sum", *files])), ("peaks, one thread", ours("peaks", 1, files)), ("peaks, levels and loudness, one thread", ours("all", 1, files)),
                (f"`sha256sum`, {cores} processes", best(3, ["sh", "-c", f"printf '%s\\n' {folder}/*.wav | xargs -P {cores} -n 1 sha256sum"])),
                (f"peaks, {cores} threads", ours("peaks", cores, files)), (f"peaks, levels and loudness, {cores} threads", ours("all", cores, files))]
        print(f"| {total / 1e9:.2f} GB of sound | seconds | MB/s |\n| --- | --- | --- |")
        for name, seconds in rows:
            print(f"| {name} | {seconds:.2f} | {total / seconds / 1e6:.0f} |")


if __name__ == "__main__":
    main()
