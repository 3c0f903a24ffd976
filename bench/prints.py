#!/usr/bin/env python3
"""Prints of 48 tracks of 5 minutes (24 bit, 48 kHz, 40 clips a track with fades): lyro, one ffmpeg process, sox on all processors, and cp and sync of as many bytes.

Usage: bench/prints.py [tracks] [minutes]     LYRO_ALONE=1 leaves ffmpeg and sox out. Makes its material in a temporary folder (about 3 times the size of the prints). Prints a table in Markdown.
"""
import json
import os
import random
import shutil
import struct
import subprocess
import sys
import tempfile
import time

LYRO = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "lyro")
RATE, CLIPS = 48_000, 40


def wave(path, frames, seed):
    """Noise in 24 bits."""
    block = random.Random(seed).randbytes(3 * RATE)
    with open(path, "wb") as f:
        size = frames * 3
        f.write(b"RIFF" + struct.pack("<I", 36 + size) + b"WAVEfmt " + struct.pack("<IHHIIHH", 16, 1, 1, RATE, RATE * 3, 3, 24) + b"data" + struct.pack("<I", size))
        for _ in range(frames // RATE):
            f.write(block)


def material(folder, tracks, minutes):
    frames, dice, media, rows = minutes * 60 * RATE, random.Random(7), [], []
    os.makedirs(f"{folder}/media")
    for t in range(tracks):
        wave(f"{folder}/media/track{t}.wav", frames, t)
        media.append({"id": f"m{t}", "fileName": f"media/track{t}.wav", "rate": str(RATE), "encoding": "integer 24", "channels": 1, "length": frames, "place": "beside"})
        clips, slot = [], frames // CLIPS
        for c in range(CLIPS):
            gap = dice.randrange(RATE // 10, RATE)
            length = slot - gap - dice.randrange(RATE // 10)
            clips.append({"id": f"t{t}c{c}", "name": f"clip {c}", "media": f"m{t}", "channelMap": [0], "start": c * slot + gap, "length": length, "sourceOffset": dice.randrange(frames - length),
                          "fadeIn": {"length": 480, "shape": "linear"}, "fadeOut": {"length": 4800, "shape": "linear"}})
        rows.append({"id": f"t{t}", "name": f"Track {t}", "kind": "audio", "channels": 1, "lanes": [{"name": "main", "clips": clips}]})
    session = {"lyrotransSession": 1, "name": "prints", "rate": str(RATE), "depth": "integer 24", "frameRate": "25", "start": "10:00:00:00", "bar1": 0,
               "tempo": [{"quarter": "0", "quartersPerMinute": "120"}], "meters": [{"bar": 1, "beats": 4, "beatUnit": 4}], "media": media, "tracks": rows}
    with open(f"{folder}/prints.session.json", "w") as f:
        json.dump(session, f)
    return session


def ffmpeg(folder, session):
    """One process: every clip cut, faded and put behind its silence, one output a track."""
    inputs, graph, outputs = [], [], []
    for t, track in enumerate(session["tracks"]):
        inputs += ["-i", f"{folder}/{session['media'][t]['fileName']}"]
        clips, at, parts = track["lanes"][0]["clips"], 0, []
        graph.append(f"[{t}:a]asplit={len(clips)}" + "".join(f"[s{t}_{c}]" for c in range(len(clips))))
        for c, clip in enumerate(clips):
            first, length, gap = clip["sourceOffset"], clip["length"], clip["start"] - at
            graph.append(f"[s{t}_{c}]atrim=start_sample={first}:end_sample={first + length},asetpts=PTS-STARTPTS,afade=t=in:ss=0:ns=480,afade=t=out:ss={length - 4800}:ns=4800,adelay={gap}S[p{t}_{c}]")
            parts.append(f"[p{t}_{c}]")
            at = clip["start"] + length
        graph.append("".join(parts) + f"concat=n={len(clips)}:v=0:a=1[o{t}]")
        outputs += ["-map", f"[o{t}]", "-c:a", "pcm_s24le", f"{folder}/ffmpeg/{t}.wav"]
    os.makedirs(f"{folder}/ffmpeg")
    with open(f"{folder}/graph.txt", "w") as f:
        f.write(";\n".join(graph))
    return ["ffmpeg", "-v", "error", "-nostdin", *inputs, "-filter_complex_script", f"{folder}/graph.txt", *outputs]


def sox(folder, session):
    """A process a track, as many at once as there are processors."""
    os.makedirs(f"{folder}/sox")
    lines = []
    for t, track in enumerate(session["tracks"]):
        source, at, parts = f"{folder}/{session['media'][t]['fileName']}", 0, []
        for clip in track["lanes"][0]["clips"]:
            gap = clip["start"] - at
            parts.append(f"'|sox {source} -p trim {clip['sourceOffset']}s {clip['length']}s fade t 480s {clip['length']}s 4800s pad {gap}s'")
            at = clip["start"] + clip["length"]
        lines.append(f"sox -D {' '.join(parts)} -b 24 {folder}/sox/{t}.wav")
    with open(f"{folder}/sox.sh", "w") as f:
        f.write("\n".join(lines))
    return ["sh", "-c", f"xargs -P {os.cpu_count()} -d '\\n' -I CMD sh -c CMD < {folder}/sox.sh"]


def timed(command):
    subprocess.run(["sync"], check=True)
    start = time.time()
    subprocess.run(command, check=True, stdout=subprocess.DEVNULL)
    return time.time() - start


def main():
    tracks, minutes = int(sys.argv[1]) if len(sys.argv) > 1 else 48, int(sys.argv[2]) if len(sys.argv) > 2 else 5
    subprocess.run([LYRO, "--help"], check=True, stdout=subprocess.DEVNULL)
    folder = tempfile.mkdtemp(prefix="lyro-bench-")
    try:
        session, document = material(folder, tracks, minutes), f"{folder}/prints.session.json"
        subprocess.run(f"cat {folder}/media/* > /dev/null", shell=True, check=True)
        rows = [("`lyro build`, package and all", timed([LYRO, "build", document, "--out", f"{folder}/out"]))]
        package = f"{folder}/out/prints.zip"
        size = os.path.getsize(package)
        rows.append(("`lyro proof` of it", timed([LYRO, "proof", package, "--against", document])))
        rows.append(("`cp` and `sync` of the package", timed(["sh", "-c", f"cp {package} {folder}/copy.zip && sync {folder}/copy.zip"])))
        os.remove(f"{folder}/copy.zip")
        shutil.rmtree(f"{folder}/out")
        for name, make in () if os.environ.get("LYRO_ALONE") else (("one ffmpeg process", ffmpeg), ("sox on all processors", sox)):
            if shutil.which(name.split()[0 if make is sox else 1]):
                rows.append((name, timed(make(folder, session))))
                shutil.rmtree(f"{folder}/{'sox' if make is sox else 'ffmpeg'}")
        with open("/proc/cpuinfo") as f:
            instructions = "with" if " sha_ni " in f.read() else "without"
        print(f"{tracks} tracks of {minutes} min, {size / 1e9:.2f} GB of prints, {os.cpu_count()} processors {instructions} instructions for SHA-256\n\n| what | s | × lyro |\n|---|---|---|")
        for name, seconds in rows:
            print(f"| {name} | {seconds:.1f} | {seconds / rows[0][1]:.2f} |")
    finally:
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
