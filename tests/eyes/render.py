"""Renders a session by docs/open-session.md alone and compares what a package holds with it.

render.py SESSION_FOLDER PACKAGE_FOLDER: prints, as JSON, for every track's print and the guide mix the largest difference in dBFS.
Shares no line with the program. Instruments are not for it.
"""
import json
import math
import struct
import sys
from fractions import Fraction
from pathlib import Path

import numpy as np

HALF_TAPS = 80
BETA = 14.0
WINDOW_X = np.linspace(0, 1, 1 << 16)
BESIDE = 2048
WINDOW = np.i0(BETA * np.sqrt(1 - WINDOW_X ** 2)) / np.i0(BETA)


def read_wave(path):
    """Channels of a linear WAVE file as rows of doubles, and its rate."""
    data = path.read_bytes()
    assert data[:4] == b"RIFF" and data[8:12] == b"WAVE"
    at, form, sound = 12, None, None
    while at + 8 <= len(data):
        name, size = data[at:at + 4], struct.unpack_from("<I", data, at + 4)[0]
        if name == b"fmt ":
            form = struct.unpack_from("<HHIIHH", data, at + 8)
            tag = struct.unpack_from("<H", data, at + 8 + 24)[0] if form[0] == 0xFFFE else form[0]
        elif name == b"data":
            sound = data[at + 8:at + 8 + size]
        at += 8 + size + (size & 1)
    channels, rate, bits = form[1], form[2], form[5]
    if tag == 3:
        flat = np.frombuffer(sound, "<f4" if bits == 32 else "<f8").astype(float)
    elif bits == 24:
        raw = np.frombuffer(sound, np.uint8).reshape(-1, 3).astype(np.int64)
        flat = ((raw[:, 0] | raw[:, 1] << 8 | raw[:, 2] << 16) ^ 0x800000) - 0x800000
        flat = flat / 2.0 ** 23
    else:
        flat = np.frombuffer(sound, f"<i{bits // 8}").astype(float) / 2.0 ** (bits - 1)
    return flat.reshape(-1, channels).T, rate


def ratio(db):
    return 10.0 ** (np.asarray(db, float) / 20)


def automation(curve, places):
    """Values at places, held outside the points, straight or in steps between."""
    at, values = (np.array([p[i] for p in curve["points"]], float) for i in (0, 1))
    if curve.get("interpolation") == "step":
        return values[np.clip(np.searchsorted(at, places, "right") - 1, 0, None)]
    return np.interp(places, at, values)


def shape(fade, x):
    k = math.log(1000)
    rising = lambda v: (np.exp(k * v) - 1) / (math.exp(k) - 1)
    name = fade["shape"]
    if name == "sampled":
        curve = np.array(fade["curve"], float)
        return np.interp(x, fade.get("places") or np.linspace(0, 1, len(curve)), curve)
    return {
        "linear": lambda: x,
        "equal power": lambda: np.sin(x * math.pi / 2),
        "s": lambda: 0.5 - 0.5 * np.cos(x * math.pi),
        "exponential": lambda: rising(x),
        "logarithmic": lambda: 1 - rising(1 - x),
    }[name]()


def between(sound, places):
    """Values of a sound at places between its samples, by a windowed sinc; silence outside."""
    whole = np.floor(places).astype(int)
    taps = np.arange(-HALF_TAPS + 1, HALF_TAPS + 1)
    padded = np.concatenate([np.zeros(2 * HALF_TAPS), sound, np.zeros(2 * HALF_TAPS)])
    result = np.zeros(len(places))
    for start in range(0, len(places), 4096):
        piece = slice(start, start + 4096)
        index = whole[piece, None] + taps
        x = places[piece, None] - index
        window = np.interp(np.abs(x) / HALF_TAPS, WINDOW_X, WINDOW)
        # The sine of a sinc is the same for all taps but for its sign.
        sine = np.sin(math.pi * (places[piece] - whole[piece]))[:, None] * np.where(taps % 2 == 0, 1.0, -1.0)
        sinc = np.divide(sine, math.pi * x, out=np.ones_like(x), where=np.abs(x) > 1e-12)
        result[piece] = (padded[np.clip(index + 2 * HALF_TAPS, 0, len(padded) - 1)] * sinc * window).sum(1)
    return result


def filtered(row, b, a):
    """One channel through a second-order filter."""
    out, (x1, x2, y1, y2) = np.empty(len(row)), (0.0, 0.0, 0.0, 0.0)
    b0, b1, b2, a1, a2 = b[0] / a[0], b[1] / a[0], b[2] / a[0], a[1] / a[0], a[2] / a[0]
    for n, x in enumerate(row.tolist()):
        y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2
        x1, x2, y1, y2, out[n] = x, x1, y, y1, y
    return out


def corner(hz, q, rate):
    w = 2 * math.pi * min(hz, 0.49 * rate) / rate
    return math.cos(w), math.sin(w) / (2 * q)


def low_pass(hz, q, rate):
    c, alpha = corner(hz, q, rate)
    return ((1 - c) / 2, 1 - c, (1 - c) / 2), (1 + alpha, -2 * c, 1 - alpha)


def high_pass(hz, q, rate):
    c, alpha = corner(hz, q, rate)
    return ((1 + c) / 2, -1 - c, (1 + c) / 2), (1 + alpha, -2 * c, 1 - alpha)


def bell(hz, q, db, rate):
    (c, alpha), a = corner(hz, q, rate), 10 ** (db / 40)
    return (1 + alpha * a, -2 * c, 1 - alpha * a), (1 + alpha / a, -2 * c, 1 - alpha / a)


def shelf(hz, db, rate, s):
    (c, alpha), a = corner(hz, math.sqrt(0.5), rate), 10 ** (db / 40)
    c, r = s * c, 2 * math.sqrt(a) * alpha
    return ((a * (a + 1 - (a - 1) * c + r), s * 2 * a * (a - 1 - (a + 1) * c), a * (a + 1 - (a - 1) * c - r)),
            (a + 1 + (a - 1) * c + r, -2 * s * (a - 1 + (a + 1) * c), a + 1 + (a - 1) * c - r))


def through(rows, filters):
    for b, a in filters:
        rows = np.array([filtered(row, b, a) for row in rows])
    return rows


def equaliser(rows, said, rate):
    take, flat = lambda name, usual: said.get(name, usual), math.sqrt(0.5)
    filters = []
    if take("low cut Hz", 0):
        filters.append(high_pass(take("low cut Hz", 0), flat, rate))
    if take("low shelf dB", 0):
        filters.append(shelf(take("low shelf Hz", 120), take("low shelf dB", 0), rate, 1))
    if take("bell dB", 0):
        filters.append(bell(take("bell Hz", 1000), take("bell Q", 0.7), take("bell dB", 0), rate))
    if take("high shelf dB", 0):
        filters.append(shelf(take("high shelf Hz", 8000), take("high shelf dB", 0), rate, -1))
    if take("high cut Hz", 0):
        filters.append(low_pass(take("high cut Hz", 0), flat, rate))
    return through(rows, filters)


def half_band(d):
    j = np.arange(-d + 1, d)
    taps = 0.5 * np.sinc(j / 2) * np.i0(12.265 * np.sqrt(1 - (j / (d + 1)) ** 2)) / np.i0(12.265)
    taps[(j % 2 == 0) & (j != 0)] = 0
    return taps


def oversampled(rows, factor, effect):
    """An effect at a higher rate; what the filters are late by is made up for."""
    bands = {1: [], 2: [64], 4: [64, 16]}[factor]
    for d in bands:
        wide = np.zeros((len(rows), rows.shape[1] * 2))
        wide[:, ::2] = rows
        rows = np.array([2 * np.convolve(row, half_band(d), "same") for row in wide])
    rows = effect(rows)
    for d in reversed(bands):
        rows = np.array([np.convolve(row, half_band(d), "same") for row in rows])[:, ::2]
    return rows


def compressor(rows, said, rate):
    factor = said.get("oversampling", 1)
    threshold, knee, slope = said.get("threshold dB", -18), said.get("knee dB", 6), 1 - 1 / said.get("ratio", 3)
    attack, release = (math.exp(-1 / (said.get(name, usual) / 1000 * rate * factor)) for name, usual in (("attack ms", 10), ("release ms", 120)))

    def run(wide):
        reductions, r = np.empty(wide.shape[1]), 0.0
        for n, m in enumerate(np.abs(wide).max(0).tolist()):
            over = 20 * math.log10(m) - threshold if m > 0 else -math.inf
            w = 0.0 if over <= -knee / 2 else slope * (over + knee / 2) ** 2 / (2 * knee) if over < knee / 2 else slope * over
            r = w + (r - w) * (attack if w > r else release)
            reductions[n] = r
        return wide * ratio(said.get("make-up dB", 0) - reductions)

    return oversampled(rows, factor, run)


def limiter(rows, said, rate):
    factor, ceiling = said.get("oversampling", 1), float(ratio(said.get("ceiling dB", -1)))
    ahead = round(said.get("look-ahead ms", 1.5) / 1000 * rate) * factor
    release = math.exp(-1 / (said.get("release ms", 80) / 1000 * rate * factor))

    def run(wide):
        m = np.abs(wide).max(0)
        gains = np.minimum(1, ceiling / np.maximum(m, ceiling))
        held = np.lib.stride_tricks.sliding_window_view(np.concatenate([np.ones(ahead), gains, np.ones(ahead)]), ahead + 1).min(1)
        smooth, s = np.empty(len(held)), 1.0
        for n, h in enumerate(held.tolist()):
            s = h if h < s or abs((s - h) * release) < 1e-10 else h + (s - h) * release
            smooth[n] = s
        mean = np.convolve(np.concatenate([np.ones(ahead), smooth]), np.ones(ahead + 1) / (ahead + 1), "valid")
        return np.clip(wide * mean[ahead:ahead + wide.shape[1]], -ceiling, ceiling)

    return oversampled(rows, factor, run)


def reverb(rows, said, rate):
    lengths = [int(ms / 1000 * rate) | 1 for ms in (29.7, 37.1, 41.1, 43.7, 53.3, 61.9, 71.3, 79.1)]
    loss = [10 ** (-3 * n / (said.get("time s", 2) * rate)) for n in lengths]
    damping, mix = 1 - math.exp(-2 * math.pi * said.get("damping Hz", 6000) / rate), said.get("mix %", 100) / 100
    late = max(1, round(said.get("pre-delay ms", 0) / 1000 * rate))
    u = np.concatenate([np.zeros(late), rows.mean(0)])[:rows.shape[1]]
    v, low = [[0.0] * (len(u) + n) for n in lengths], [0.0] * 8
    for n, sound in enumerate(u.tolist()):
        for k in range(8):
            low[k] += damping * (v[k][n] - low[k])
        total = sum(x * g for x, g in zip(low, loss))
        for k in range(8):
            v[k][n + lengths[k]] = low[k] * loss[k] - total / 4 + sound
    heard = [np.array(line[:len(u)]) for line in v]
    signs = [[1 if bin(k & (c + 1)).count("1") % 2 == 0 else -1 for k in range(8)] for c in range(len(rows))]
    return (1 - mix) * rows + mix * np.array([sum(s * h for s, h in zip(row, heard)) / 8 for row in signs])


def drive(rows, said, rate):
    hard, level, cut = float(ratio(said.get("drive dB", 12))), float(ratio(said.get("level dB", 0))), said.get("cabinet Hz", 4000)
    rows = oversampled(rows, said.get("oversampling", 2), lambda wide: level * np.tanh(hard * wide))
    return through(rows, [high_pass(80, math.sqrt(0.5), rate), bell(0.7 * cut, 1.2, 4, rate), low_pass(cut, 0.5412, rate), low_pass(cut, 1.3066, rate)])


EFFECTS = {"equaliser": equaliser, "compressor": compressor, "limiter": limiter, "reverb": reverb, "drive and cabinet": drive}


class Session:
    def __init__(self, folder):
        self.said = json.loads(next(folder.glob("*.session.json")).read_text("utf-8"))
        self.rate = Fraction(self.said["rate"])
        self.media = {m["id"]: (m, read_wave(folder / m["fileName"])[0]) for m in self.said["media"]}
        self.tracks = {t["id"]: t for t in self.said["tracks"]}
        self.law = self.said.get("panLaw", "-3 dB")
        self.master = next((t["id"] for t in self.said["tracks"] if t["kind"] == "master"), None)

    def clip(self, clip):
        """What a clip sounds like, a row for each of its channels."""
        media, sound = self.media[clip["media"]]
        n = np.arange(clip["length"])
        step = Fraction(media["rate"]) / self.rate
        if step == 1:
            at = clip["sourceOffset"] + n
            inside = (at >= 0) & (at < sound.shape[1])
            rows = np.array([np.where(inside, sound[c][np.clip(at, 0, sound.shape[1] - 1)], 0) for c in clip["channelMap"]])
        else:
            places = clip["sourceOffset"] + n * float(step)
            rows = np.array([between(sound[c], places) for c in clip["channelMap"]])
        gain = ratio(clip.get("gainDb", 0)) * np.ones(len(n))
        if "gainCurve" in clip:
            gain = gain * ratio(automation(clip["gainCurve"], n))
        for name, place in (("fadeIn", n), ("fadeOut", clip["length"] - 1 - n)):
            fade = clip.get(name)
            if fade and fade["length"]:
                inside = place < fade["length"]
                gain[inside] *= shape(fade, (place[inside] + 0.5) / fade["length"])
        return rows * gain

    def dry(self, track, start, length):
        out = np.zeros((track["channels"], length))
        lanes = track.get("lanes", [])
        for clip in lanes[track.get("soundingLane", 0)].get("clips", []) if lanes else []:
            if clip.get("muted"):
                continue
            rows, at = self.clip(clip), clip["start"] - start
            first, last = max(0, at), min(length, at + clip["length"])
            if last > first:
                for c in range(track["channels"]):
                    out[c, first:last] += rows[min(c, len(rows) - 1), first - at:last - at]
        return out

    def gains(self, pan, channels):
        pan = np.clip(np.asarray(pan, float), -1, 1)
        if channels == 2 or self.law == "0 dB":
            return np.minimum(1, 1 - pan), np.minimum(1, 1 + pan)
        a, k = (pan + 1) * math.pi / 4, {"-3 dB": 1, "-4.5 dB": 1.5, "-6 dB": 2}[self.law]
        return np.clip(np.cos(a), 0, None) ** k, np.clip(np.sin(a), 0, None) ** k

    def panned(self, rows, pan, channels):
        """Rows laid into another number of channels."""
        if channels == 1:
            return rows.mean(0, keepdims=True)
        if len(rows) <= 2:
            left, right = self.gains(pan, len(rows))
            return np.array([rows[0] * left, rows[-1] * right])
        spread = [self.gains(-1 + 2 * i / (len(rows) - 1), 1) for i in range(len(rows))]
        return np.array([sum(r * g[side] for r, g in zip(rows, spread)) for side in (0, 1)])

    def effect(self, rows, insert):
        said = {p["name"]: p["value"] for p in insert.get("parameters", [])}
        if insert.get("bypassed"):
            return rows
        if insert["effect"] == "gain":
            return rows * ratio(said.get("gain dB", 0))
        if insert["effect"] != "delay":
            return EFFECTS[insert["effect"]](rows, said, float(self.rate))
        late = max(1, round(said.get("time ms", 400) * float(self.rate) / 1000))
        back, mix = said.get("feedback", 0), said.get("mix %", 100) / 100
        out = rows * (1 - mix)
        echo, level = rows, 1.0
        for k in range(1, rows.shape[1] // late + 1):
            out[:, k * late:] += mix * level * rows[:, :rows.shape[1] - k * late]
            level *= back
            if level < 1e-12:
                break
        return out

    def effected(self, track, start, length, sources, goes):
        """A track after its effects, with all that feeds it."""
        rows = self.dry(track, start, length) if track["id"] in goes else np.zeros((track["channels"], length))
        for other in self.tracks.values():
            if (other.get("output") or self.master) == track["id"] and other["id"] != track["id"]:
                rows = rows + self.mixed(other, start, length, sources, goes, track["channels"])
            for send in other.get("sends", []):
                if send["target"] == track["id"]:
                    rows = rows + self.sent(other, send, start, length, sources, goes, track["channels"])
        if track.get("inverted"):
            rows = -rows
        for insert in track.get("inserts", []):
            rows = self.effect(rows, insert)
        return rows

    def level(self, db, curve, start, length):
        gain = ratio(db) * np.ones(length)
        return gain * ratio(automation(curve, start + np.arange(length))) if curve else gain

    def source(self, track, start, length, sources, goes):
        if track["id"] not in sources:
            sources[track["id"]] = self.effected(track, start, length, sources, goes)
        return sources[track["id"]]

    def faded(self, track, start, length, sources, goes):
        return self.source(track, start, length, sources, goes) * self.level(track.get("faderDb", 0), track.get("faderAutomation"), start, length)

    def mixed(self, track, start, length, sources, goes, channels):
        moves = track.get("panAutomation")
        pan = automation(moves, start + np.arange(length)) if moves and channels == 2 and track["channels"] <= 2 else track.get("pan", 0)
        return self.panned(self.faded(track, start, length, sources, goes), pan, channels)

    def sent(self, track, send, start, length, sources, goes, channels):
        take = self.source if send.get("preFader") else self.faded
        rows = take(track, start, length, sources, goes) * self.level(send["levelDb"], send.get("levelAutomation"), start, length)
        return self.panned(rows, send.get("pan", 0), channels)


def compare(session, package):
    manifest = json.loads((package / "manifest.json").read_text("utf-8"))
    choices = {t["track"]: t["treatment"] for t in manifest["preparation"]["tracks"]}
    goes = {t for t, treatment in choices.items() if treatment != "hold back"}
    kept = {}
    for file in manifest["files"]:
        if file["kind"] not in ("FromZero", "GuideMix"):
            continue
        found, _ = read_wave(package / file["path"].split("/", 1)[1])

        # Filters of oversampling sound a little before and after what goes in.
        start, length = manifest["rangeStart"] - BESIDE, found.shape[1] + 2 * BESIDE
        sources = kept.setdefault(length, {})
        if file["kind"] == "GuideMix":
            # What is taken through a master that does nothing is what feeds it.
            meant = session.faded(session.tracks[session.master], start, length, sources, goes)
        else:
            track = session.tracks[file["track"]]
            how = choices[file["track"]]
            meant = (
                session.dry(track, start, length) if how == "print dry"
                else session.effected(track, start, length, sources, goes) if how == "print through"
                else session.mixed(track, start, length, sources, goes, 2)
            )
        meant = meant[:, BESIDE:-BESIDE] * ratio(manifest.get("loweredDb", 0))
        most = np.abs(found - meant).max()
        yield {"path": file["path"], "how": choices.get(file.get("track"), file["kind"]), "peak": float(np.abs(meant).max()), "difference": float(20 * np.log10(most)) if most else -999.0}


if __name__ == "__main__":
    print(json.dumps(list(compare(Session(Path(sys.argv[1])), Path(sys.argv[2])))))
