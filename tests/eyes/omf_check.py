"""Walks an OMF file by the facts of the format alone (label, table of contents, classes) and says everything that is wrong with it.

Independent of the application: nothing of it is used here. Run: omf_check.py FILE [--dump]; prints problems, one a line; exit 1 where there are any.
"""
import struct
import sys

MAGIC = bytes([0xA4, 0x43, 0x4D, 0xA5, 0x48, 0x64, 0x72, 0xD7])
OWN_CLASSES = {"HEAD", "OOBJ"}
# The class that each property's name begins with must be the object's own or one of its parents.
PARENTS = {
    "CPNT": "OOBJ", "SEGM": "CPNT", "SCLP": "SEGM", "FILL": "SEGM", "SEQU": "SEGM", "TCCP": "SEGM", "ECCP": "SEGM", "EFFE": "SEGM", "NEST": "SEGM", "SLCT": "SEGM",
    "SREF": "SEGM", "MGRP": "SEGM", "ERAT": "SEGM", "CVAL": "SEGM", "VVAL": "SEGM", "TRAN": "CPNT", "MOBJ": "OOBJ", "CMOB": "MOBJ", "MMOB": "MOBJ", "SMOB": "MOBJ", "MSLT": "OOBJ",
    "TRKD": "OOBJ", "ESLT": "OOBJ", "CTLP": "OOBJ", "DDEF": "OOBJ", "EDEF": "OOBJ", "MDES": "OOBJ", "MDFL": "MDES", "AIFD": "MDFL", "WAVD": "MDFL", "SD2D": "MDFL", "MDTP": "MDES",
    "MDFM": "MDES", "MDAT": "OOBJ", "AIFC": "MDAT", "WAVE": "MDAT", "LOCR": "OOBJ", "TXTL": "LOCR", "UNXL": "LOCR", "DOSL": "LOCR", "WINL": "LOCR", "MACL": "LOCR", "NETL": "LOCR",
    "ATTR": "OOBJ", "ATTB": "OOBJ", "CLSD": "OOBJ", "HEAD": "OOBJ", "IDNT": "OOBJ",
}
NEEDED = {
    "HEAD": ["OMFI:HEAD:ByteOrder", "OMFI:HEAD:Version", "OMFI:HEAD:ClassDictionary", "OMFI:HEAD:Mobs"],
    "MSLT": ["OMFI:MSLT:Segment", "OMFI:MSLT:EditRate"], "SEQU": ["OMFI:SEQU:Components"], "SCLP": ["OMFI:SCLP:SourceID", "OMFI:SCLP:SourceTrackID", "OMFI:SCLP:StartTime"],
    "TRAN": ["OMFI:TRAN:Effect", "OMFI:TRAN:CutPoint"], "EFFE": ["OMFI:EFFE:EffectKind", "OMFI:EFFE:EffectSlots"], "ESLT": ["OMFI:ESLT:ArgID", "OMFI:ESLT:ArgValue"],
    "CVAL": ["OMFI:CVAL:Value"], "VVAL": ["OMFI:VVAL:Interpolation", "OMFI:VVAL:PointList"], "CTLP": ["OMFI:CTLP:Time", "OMFI:CTLP:Value"], "DDEF": ["OMFI:DDEF:DataKindID"],
    "EDEF": ["OMFI:EDEF:EffectID"], "MDFL": ["OMFI:MDFL:IsOMFI", "OMFI:MDFL:SampleRate", "OMFI:MDFL:Length"], "CLSD": ["OMFI:CLSD:ClassID"], "SMOB": ["OMFI:SMOB:MediaDescription"],
    "MOBJ": ["OMFI:MOBJ:MobID", "OMFI:MOBJ:Slots"], "TRKD": ["OMFI:TRKD:TrackID"], "CPNT": ["OMFI:CPNT:DataKind", "OMFI:CPNT:Length"],
}


class Omf:
    def __init__(self, path):
        self.problems, self.objects, self.names = [], {}, {}
        with open(path, "rb") as f:
            self.data = f.read()
        self.label()
        if not self.problems:
            self.contents()

    def wrong(self, text):
        self.problems.append(text)

    def label(self):
        data = self.data
        if len(data) < 24 or data[-24:-16] != MAGIC:
            return self.wrong("the last 24 bytes are no label")
        for order in "<>":
            flags, other, major, minor, offset, size = struct.unpack(order + "HHHHII", data[-16:])
            if offset + size + 24 == len(data):
                self.order, self.major, self.buffer, self.toc, self.toc_size = order, major, other, offset, size
                break
        else:
            return self.wrong("the table of contents does not end where the label begins, in neither byte order")
        if self.major not in (1, 2):
            self.wrong(f"version {self.major} of the container")

    def contents(self):
        for oid, prop, kind, spans in (self.fixed() if self.major == 1 else self.coded()):
            self.objects.setdefault(oid, {}).setdefault((prop, kind), []).append(spans)
        for oid, values in self.objects.items():
            for (prop, kind), spans in values.items():
                if prop in (0x16, 0x17, 0x18):
                    name = b"".join(self.bytes(s) for s in spans)
                    if not name.endswith(b"\0") or any(b < 32 or b > 126 for b in name[:-1]):
                        self.wrong(f"the name of id {oid:#x} is not zero-terminated ASCII")
                    self.names[oid] = name[:-1].decode("latin-1")

    def fixed(self):
        if self.toc_size % 24:
            self.wrong("the table of contents is no whole number of entries")
        for at in range(self.toc, self.toc + self.toc_size - 23, 24):
            oid, prop, kind, offset, length, generation, flags = struct.unpack(self.order + "IIIIIHH", self.data[at:at + 24])
            if flags & 1:
                if length > 4:
                    self.wrong(f"an immediate value of {length} bytes")
                yield oid, prop, kind, (at + 12, length, True)
            else:
                yield oid, prop, kind, (offset, length, False)

    def coded(self):
        at, end, oid, prop, kind = self.toc, self.toc + self.toc_size, 0, 0, 0
        number = lambda n: [struct.unpack(self.order + "I", self.data[at + 1 + 4 * i:at + 5 + 4 * i])[0] for i in range(n)]
        while at < end:
            code = self.data[at]
            if code == 1:
                oid, prop, kind = number(3); at += 13
            elif code == 2:
                prop, kind = number(2); at += 9
            elif code == 3:
                kind, = number(1); at += 5
            elif code in (4, 15):
                at += 5
            elif code in (5, 6):
                offset, length = number(2); at += 9
                yield oid, prop, kind, (offset, length, False)
            elif code in (7, 8):
                offset, length = struct.unpack(self.order + "QI", self.data[at + 1:at + 13]); at += 13
                yield oid, prop, kind, (offset, length, False)
            elif code == 9:
                at += 1
                yield oid, prop, kind, (at, 0, True)
            elif 10 <= code <= 14:
                yield oid, prop, kind, (at + 1, 4 if code == 14 else code - 9, True); at += 5
            elif code == 24:
                step = self.buffer * 1024
                at = self.toc + ((at - self.toc) // step + 1) * step if step else end
            elif code == 255:
                at += 1
            else:
                return self.wrong(f"code {code} in the table of contents at {at}")

    def bytes(self, span):
        return self.data[span[0]:span[0] + span[1]]

    # What an object says, by name: (type, bytes).
    def said(self, oid):
        return {self.names.get(p, f"#{p:x}"): (self.names.get(t, f"#{t:x}"), b"".join(self.bytes(s) for s in spans)) for (p, t), spans in self.objects.get(oid, {}).items()}

    def check(self):
        if self.problems:
            return self.problems
        self.check_cover()
        said = {oid: self.said(oid) for oid in self.objects if oid not in self.names}
        self.classes = {oid: v["OMFI:OOBJ:ObjClass"][1].decode("latin-1") for oid, v in said.items() if "OMFI:OOBJ:ObjClass" in v}
        self.check_names(said)
        self.check_references(said)
        self.check_dictionary(said)
        self.check_lengths(said)
        return self.problems

    # Values lie beside one another, and everything that is no value is the table and the label.
    def check_cover(self):
        spans = sorted((s[0], s[0] + s[1]) for v in self.objects.values() for (p, t), l in v.items() for s in l if not s[2] and s[1] and p not in (4, 5))
        spans += [(self.toc, self.toc + self.toc_size), (len(self.data) - 24, len(self.data))]
        at = 0
        for start, end in sorted(spans):
            if start < at:
                self.wrong(f"bytes {start} to {min(at, end)} are in two values")
            if start > at and any(self.data[at:start]):
                self.wrong(f"bytes {at} to {start} are in no value")
            if end > len(self.data):
                self.wrong(f"a value ends at {end}, beyond the file")
            at = max(at, end)

    def chain(self, name):
        while name:
            yield name
            name = PARENTS.get(name)

    def check_names(self, said):
        for oid, values in said.items():
            own = set(self.chain(self.classes.get(oid, "")))
            for name, (kind, _) in values.items():
                if name.startswith("#") and int(name[1:], 16) not in (2, 3, 4, 5, 0x16, 0x17, 0x18):
                    self.wrong(f"object {oid:#x} has a property {name} without a name")
                if kind.startswith("#") and name.startswith("OMFI"):
                    self.wrong(f"{name} has a type {kind} without a name")
                if name.startswith("OMFI:") and oid in self.classes and name.split(":")[1] not in own:
                    self.wrong(f"a {self.classes[oid]} says {name}")
            for need in [n for c in own for n in NEEDED.get(c, [])]:
                if need not in values:
                    self.wrong(f"a {self.classes[oid]} (object {oid:#x}) does not say {need}")

    def references(self, kind, value):
        if kind == "omfi:ObjRef":
            return [self.one(value)] if len(value) in (4, 8) else self.wrong(f"a reference of {len(value)} bytes") or []
        count, = struct.unpack(self.order + "H", value[:2]) if len(value) >= 2 else (0,)
        size = (len(value) - 2) // count if count else 8
        if len(value) != 2 + count * size or size not in (4, 8):
            self.wrong(f"an array of {count} references has {len(value)} bytes")
            return []
        return [self.one(value[2 + i * size:2 + (i + 1) * size]) for i in range(count)]

    # Of eight bytes the first four; big-endian files were seen to have it in the last.
    def one(self, value):
        words = struct.unpack(f"{self.order}{len(value) // 4}I", value)
        return words[0] or words[-1]

    def check_references(self, said):
        owned, seen = {}, set()
        for oid, values in said.items():
            for name, (kind, value) in values.items():
                if kind in ("omfi:ObjRef", "omfi:ObjRefArray"):
                    owned.setdefault(oid, []).extend(self.references(kind, value))
                    for to in self.references(kind, value):
                        if to not in self.classes:
                            self.wrong(f"{name} of object {oid:#x} refers to {to:#x}, which is no object")
        waiting = [1]
        while waiting:
            oid = waiting.pop()
            if oid not in seen:
                seen.add(oid)
                waiting += owned.get(oid, [])
        for oid in self.classes:
            if oid not in seen:
                self.wrong(f"nothing refers to the {self.classes[oid]} with the id {oid:#x}")
        mobs = [v["OMFI:MOBJ:MobID"][1] for v in said.values() if "OMFI:MOBJ:MobID" in v]
        if len(mobs) != len(set(mobs)):
            self.wrong("two mobs have one identifier")
        for oid, values in said.items():
            for name in ("OMFI:SCLP:SourceID", "OMFI:MDAT:MobID"):
                if name in values and any(values[name][1]) and values[name][1] not in mobs:
                    self.wrong(f"{name} of object {oid:#x} is no mob of the file")

    def check_dictionary(self, said):
        known = {}
        for oid, values in said.items():
            if self.classes.get(oid) == "CLSD" and "OMFI:CLSD:ClassID" in values:
                parent = values.get("OMFI:CLSD:ParentClass")
                known[values["OMFI:CLSD:ClassID"][1].decode("latin-1")] = self.references("omfi:ObjRef", parent[1])[0] if parent else None
        by_id = {oid: said[oid]["OMFI:CLSD:ClassID"][1].decode("latin-1") for oid in said if self.classes.get(oid) == "CLSD"}
        for name in set(self.classes.values()) - {"CLSD"} | set():
            if name not in known:
                self.wrong(f"the class {name} is not in the class dictionary")
            elif name != "OOBJ" and (known[name] is None or by_id.get(known[name]) != PARENTS.get(name)):
                self.wrong(f"the class {name} has the parent {by_id.get(known[name])}, not {PARENTS.get(name)}")
        if "OOBJ" not in known:
            self.wrong("the class dictionary does not go down to OOBJ")

    def whole(self, value):
        return int.from_bytes(value, "little" if self.order == "<" else "big", signed=True)

    def check_lengths(self, said):
        length = lambda oid: self.whole(said[oid]["OMFI:CPNT:Length"][1]) if oid in said and "OMFI:CPNT:Length" in said[oid] else 0
        for oid, values in said.items():
            if self.classes.get(oid) == "SEQU" and "OMFI:SEQU:Components" in values:
                parts = self.references("omfi:ObjRefArray", values["OMFI:SEQU:Components"][1])
                total = sum(-length(p) if self.classes.get(p) == "TRAN" else length(p) for p in parts)
                if total != length(oid):
                    self.wrong(f"the parts of sequence {oid:#x} make {total} edit units, and it says {length(oid)}")
                for i, part in enumerate(parts):
                    if self.classes.get(part) == "TRAN":
                        if i in (0, len(parts) - 1) or "TRAN" in (self.classes.get(parts[i - 1]), self.classes.get(parts[i + 1])):
                            self.wrong(f"a transition in sequence {oid:#x} does not lie between two segments")
                        elif length(parts[i - 1]) < length(part) or length(parts[i + 1]) < length(part):
                            self.wrong(f"a transition of {length(part)} in sequence {oid:#x} is longer than what it joins")
            for kind in ("OMFI:CPNT:Length",):
                if kind in values and self.whole(values[kind][1]) < 0:
                    self.wrong(f"object {oid:#x} has a negative length")

    def dump(self):
        for oid in sorted(self.objects):
            if oid in self.names:
                continue
            print(f"{oid:#x}")
            for name, (kind, value) in self.said(oid).items():
                shown = [hex(r) for r in self.references(kind, value)] if kind.startswith("omfi:ObjRef") else value[:48]
                print(f"  {name} ({kind}, {len(value)}) {shown}")


if __name__ == "__main__":
    file = Omf(sys.argv[1])
    if "--dump" in sys.argv:
        file.dump()
    for problem in file.check():
        print(problem)
    sys.exit(1 if file.problems else 0)
