#!/usr/bin/python3
"""Walks an AAF file and says everything in it that breaks the facts of the format. Shares no code with the writer.

Usage: aaf_check.py MODEL.json FILE.aaf ...    Prints one line a fault and exits 1 if there is any.
Needs python3-olefile, which reads the container.
"""
import json
import struct
import sys

import olefile

STRONG, STRONG_VECTOR, STRONG_SET = 0x22, 0x32, 0x3A
WEAK, WEAK_VECTOR, WEAK_SET = 0x02, 0x12, 0x1A
DATA, STREAM = 0x82, 0x42
OBJ_CLASS = 0x0101  # Said by the storage's class identifier, so not stored.
FORMS = {
    "strong reference": {STRONG}, "weak reference": {WEAK}, "stream": {STREAM},
}
SIZES = {"Boolean": 1, "AUID": 16, "MobIDType": 32, "Rational": 8, "TimeStamp": 8, "VersionType": 2, "LengthType": 8, "PositionType": 8}


def auid(raw):
    a, b, c = struct.unpack_from("<IHH", raw)
    d = raw[8:16].hex()
    return f"{a:08x}-{b:04x}-{c:04x}-{d[:4]}-{d[4:]}"


def text(raw):
    return raw.decode("utf-16-le").rstrip("\0")


class Container(olefile.OleFileIO):
    """Looks for streams that lie in one place in sets: in the lists of olefile that takes as long as everything else."""

    def _check_duplicate_stream(self, first_sect, minifat=False):
        if not minifat and first_sect in (olefile.olefile.DIFSECT, olefile.olefile.FATSECT, olefile.ENDOFCHAIN, olefile.olefile.FREESECT):
            return
        seen = self.__dict__.setdefault("seen_small" if minifat else "seen", set())
        if first_sect in seen:
            self._raise_defect(olefile.DEFECT_INCORRECT, "Stream referenced twice")
        seen.add(first_sect)


class Checker:
    def __init__(self, path, model):
        self.path, self.model, self.faults = path, model, []
        self.classes = {c["id"]: name for name, c in model["classes"].items()}
        self.type_of = {t["id"]: (name, t) for name, t in reversed(model["types"].items())}
        self.known = {}
        self.ole = Container(path)
        self.objects = 0

    def fault(self, where, what):
        self.faults.append(f"{self.path}: {where or '/'}: {what}")

    def read(self, entry):
        self.ole._check_duplicate_stream = lambda *a, **k: None
        return self.ole._open(entry.isectStart, entry.size).read()

    # The container.
    def container(self):
        with open(self.path, "rb") as f:
            head = f.read(512)
        shift, = struct.unpack_from("<H", head, 30)
        major, = struct.unpack_from("<H", head, 26)
        form = {12: ("0d010201-0200-0000-060e-2b3403020101", 4), 9: ("42464141-000d-4d4f-060e-2b34010101ff", 3)}.get(shift)
        if form is None or auid(head[8:24]) != form[0] or major != form[1]:
            self.fault("", f"header: sector shift {shift}, version {major}, class {auid(head[8:24])}")
        root = self.ole.root
        if (root.clsid or "").lower() != self.model["root"]["storage_class_id"]:
            self.fault("", f"root class {root.clsid}")

    def tree(self, entry, where):
        """Siblings in order, no red node under a red one, the same number of black nodes on every path."""
        entries = self.ole.direntries
        names = []

        def walk(sid, parent_red):
            if sid == 0xFFFFFFFF:
                return 1
            node = entries[sid]
            red = node.color == 0
            if red and parent_red:
                self.fault(where, f"{node.name!r}: a red entry under a red one")
            left = walk(node.sid_left, red)
            names.append(node.name)
            right = walk(node.sid_right, red)
            if left != right:
                self.fault(where, f"{node.name!r}: {left} black entries on one side and {right} on the other")
            return left + (0 if red else 1)

        if entry.sid_child != 0xFFFFFFFF and entries[entry.sid_child].color == 0:
            self.fault(where, "the top of its siblings is red")
        walk(entry.sid_child, False)
        keys = [(len(n.encode("utf-16-le")), [ord(c.upper()) if len(c.upper()) == 1 else ord(c) for c in n]) for n in names]
        for a, b in zip(keys, keys[1:]):
            if not a < b:
                self.fault(where, "siblings are out of order")
                break

    # Objects.
    def load(self, entry, where):
        self.objects += 1
        self.tree(entry, where)
        kids = {k.name: k for k in entry.kids}
        node = {"where": where, "class": (entry.clsid or "").lower(), "props": {}, "kids": {}}
        used = {"properties"}
        if "properties" not in kids:
            self.fault(where, "no properties")
            return node
        raw = self.read(kids["properties"])
        if raw[0] != 0x4C or raw[1] != 0x20:
            self.fault(where, f"properties begin with {raw[:2].hex()}")
        count, = struct.unpack_from("<H", raw, 2)
        at = 4 + count * 6
        for i in range(count):
            pid, form, size = struct.unpack_from("<HHH", raw, 4 + i * 6)
            value = raw[at:at + size]
            at += size
            if pid in node["props"]:
                self.fault(where, f"property {pid:04x} twice")
            node["props"][pid] = (form, value)
            if form == STRONG:
                name = text(value)
                used.add(name)
                node["kids"][pid] = [self.child(kids, name, where)]
            elif form in (STRONG_VECTOR, STRONG_SET):
                name = text(value)
                node["kids"][pid] = self.children(kids, name, form, used, where)
            elif form in (WEAK_VECTOR, WEAK_SET):
                used.add(text(value) + " index")
                node.setdefault("weak", {})[pid] = self.weak_list(kids, text(value), where)
            elif form == WEAK:
                tag, key_pid, size = struct.unpack_from("<HHB", value)
                node.setdefault("weak", {})[pid] = [(tag, key_pid, value[5:])]
                if size != 16 or len(value) != 21:
                    self.fault(where, f"weak reference {pid:04x} with a key of {size} bytes")
            elif form == STREAM:
                if value[:1] != b"\x55":
                    self.fault(where, f"data stream {pid:04x} has byte order {value[:1].hex()}")
                used.add(text(value[1:]))
                if text(value[1:]) not in kids:
                    self.fault(where, f"data stream {text(value[1:])!r} is not there")
            elif form != DATA:
                self.fault(where, f"property {pid:04x} has the form {form:02x}")
        if at != len(raw):
            self.fault(where, f"properties are {len(raw)} bytes, and their sizes add up to {at}")
        if where == "":
            used.add("referenced properties")
        for name in kids:
            if name not in used:
                self.fault(where, f"{name!r} belongs to no property")
        return node

    def child(self, kids, name, where):
        if name not in kids:
            self.fault(where, f"the object {name!r} is not there")
            return None
        return self.load(kids[name], f"{where}/{name}")

    def children(self, kids, name, form, used, where):
        used.add(f"{name} index")
        if f"{name} index" not in kids:
            self.fault(where, f"the index of {name!r} is not there")
            return []
        raw = self.read(kids[f"{name} index"])
        count, first, last = struct.unpack_from("<III", raw)
        at, result = 12, []
        key_size = 0
        if form == STRONG_SET:
            key_pid, key_size = struct.unpack_from("<HB", raw, 12)
            at = 15
        seen = set()
        for _ in range(count):
            local, = struct.unpack_from("<I", raw, at)
            at += 4
            if local in seen or local >= first:
                self.fault(where, f"{name!r}: key {local} twice, or not below the next free one, {first}")
            seen.add(local)
            child = f"{name}{{{local:x}}}"
            used.add(child)
            node = self.child(kids, child, where)
            if form == STRONG_SET:
                references, = struct.unpack_from("<I", raw, at)
                key = raw[at + 4:at + 4 + key_size]
                at += 4 + key_size
                # Parameters of an operation are known by their definition, whatever the index calls the key.
                own = 0x4C01 if name.endswith("-b03") else key_pid
                if node and node["props"].get(own, (0, b""))[1] != key:
                    self.fault(where, f"{child!r}: its key in the index is not its own")
                if references != 1:
                    self.fault(where, f"{child!r}: reference count {references}")
            result.append(node)
        if at != len(raw):
            self.fault(where, f"the index of {name!r} is {len(raw)} bytes, and {at} are used")
        return [n for n in result if n]

    def weak_list(self, kids, name, where):
        if f"{name} index" not in kids:
            self.fault(where, f"the index of {name!r} is not there")
            return []
        raw = self.read(kids[f"{name} index"])
        count, tag, key_pid, size = struct.unpack_from("<IHHB", raw)
        if len(raw) != 9 + count * size:
            self.fault(where, f"the index of {name!r} has the wrong length")
        return [(tag, key_pid, raw[9 + i * size:9 + (i + 1) * size]) for i in range(count)]

    def walk(self, node):
        yield node
        for nodes in node["kids"].values():
            for child in nodes:
                if child:
                    yield from self.walk(child)

    # What the objects say of themselves.
    def describe(self):
        meta = self.root["kids"][1][0]
        self.types = {auid(t["props"][5][1]): t for t in meta["kids"].get(4, [])}
        self.described = {}
        for c in meta["kids"].get(3, []):
            properties = {}
            for p in c["kids"].get(9, []):
                pid, = struct.unpack("<H", p["props"][0x0D][1])
                properties[pid] = (text(p["props"][6][1]), auid(p["props"][0x0B][1]), p["props"][0x0C][1] == b"\1")
                if auid(p["props"][0x0B][1]) not in self.types:
                    self.fault(p["where"], "its type is not in the meta dictionary")
            self.described[auid(c["props"][5][1])] = (text(c["props"][6][1]), auid(c["weak"][8][0][2]), properties)

    def properties_of(self, cls):
        result, seen = {}, set()
        while cls in self.described and cls not in seen:
            seen.add(cls)
            result.update(self.described[cls][2])
            cls = self.described[cls][1]
        return result

    def is_a(self, node, name):
        cls, seen = node["class"], set()
        while cls not in seen:
            seen.add(cls)
            if self.classes.get(cls) == name:
                return True
            cls = self.described.get(cls, (None, cls))[1]
        return False

    def check_object(self, node):
        cls, where = node["class"], node["where"]
        if cls not in self.described:
            if not where.startswith("/MetaDictionary"):
                self.fault(where, f"its class {cls} is not in the meta dictionary")
            return
        known = self.known[cls] = self.known.get(cls) or self.properties_of(cls)
        for pid, (form, value) in node["props"].items():
            if pid not in known:
                self.fault(where, f"property {pid:04x} is not one of {self.described[cls][0]}")
                continue
            self.check_form(node, pid, form, value, known[pid])
        for pid, (name, _, optional) in known.items():
            if not optional and pid != OBJ_CLASS and pid not in node["props"]:
                self.fault(where, f"{self.described[cls][0]} lacks {name}")

    def check_form(self, node, pid, form, value, prop):
        name, type_id, _ = prop
        if type_id not in self.type_of:
            return
        type_name, facts = self.type_of[type_id]
        kind = facts["kind"]
        element = self.model["types"].get(facts.get("element", ""), {}).get("kind", "")
        if pid == 0x0B03:
            expected = {STRONG_SET, STRONG_VECTOR}
        elif kind == "set":
            expected = {"strong reference": {STRONG_SET}, "weak reference": {WEAK_SET}}.get(element, {DATA})
        elif kind == "variable array":
            expected = {"strong reference": {STRONG_VECTOR}, "weak reference": {WEAK_VECTOR}}.get(element, {DATA})
        else:
            expected = FORMS.get(kind, {DATA})
        if form not in expected:
            self.fault(node["where"], f"{name} has the form {form:02x}")
        size = facts["size"] if kind == "integer" else SIZES.get(type_name)
        if form == DATA and size and len(value) != size:
            self.fault(node["where"], f"{name} is {len(value)} bytes, and a {type_name} has {size}")
        if form == DATA and kind == "string" and (len(value) % 2 or value[-2:] != b"\0\0"):
            self.fault(node["where"], f"{name} is no text with a zero at its end")
        if form == DATA and kind == "indirect" and (value[:1] != b"\x4c" or auid(value[1:17]) not in self.types):
            self.fault(node["where"], f"{name} is of a type that is not in the meta dictionary")

    def check_weak(self):
        table = next(k for k in self.ole.root.kids if k.name == "referenced properties")
        raw = self.read(table)
        count, words = struct.unpack_from("<HI", raw, 1)
        pids = struct.unpack_from(f"<{words}H", raw, 7)
        paths, at = [], []
        for pid in pids:
            if pid:
                at.append(pid)
            else:
                paths.append(at)
                at = []
        if len(paths) != count or raw[0] != 0x4C:
            self.fault("", f"{len(paths)} paths of references, and {count} were said")
        targets = []
        for path in paths:
            nodes = [self.root]
            for pid in path:
                nodes = [c for n in nodes for c in n["kids"].get(pid, [])]
            targets.append(nodes)
        keys = {}
        for node in self.walk(self.root):
            for pid, references in node.get("weak", {}).items():
                for tag, key_pid, key in references:
                    if tag >= len(targets):
                        self.fault(node["where"], f"{pid:04x} refers by the path {tag}, and there are {len(targets)}")
                        continue
                    if (tag, key_pid) not in keys:
                        keys[tag, key_pid] = {n["props"].get(key_pid, (0, b""))[1] for n in targets[tag]}
                    if key not in keys[tag, key_pid]:
                        self.fault(node["where"], f"{pid:04x} refers to {auid(key)}, which is not there")

    # What they mean.
    def number(self, node, pid):
        value = node["props"].get(pid)
        return int.from_bytes(value[1], "little", signed=True) if value else 0

    def check_sequence(self, node):
        parts = node["kids"].get(0x1001, [])
        if not any(0x0202 in p["props"] for p in parts) or self.is_a(parts[0], "Event"):
            return
        total = 0
        for i, part in enumerate(parts):
            length = self.number(part, 0x0202)
            if length <= 0:
                self.fault(part["where"], f"a component of length {length}")
            if self.is_a(part, "Transition"):
                total -= length
                around = [parts[j] if 0 <= j < len(parts) else None for j in (i - 1, i + 1)]
                for other in around:
                    if other is None or self.is_a(other, "Transition"):
                        self.fault(part["where"], "a transition beside nothing, or beside another")
                    elif self.number(other, 0x0202) < length:
                        self.fault(part["where"], "a transition longer than what is beside it")
                if not 0 <= self.number(part, 0x1802) <= length:
                    self.fault(part["where"], "a cut point outside its transition")
            else:
                total += length
                reach = sum(self.number(parts[j], 0x0202) for j in (i - 1, i + 1) if 0 <= j < len(parts) and self.is_a(parts[j], "Transition"))
                if reach > length:
                    self.fault(part["where"], "transitions on both sides reach over each other")
        if total != self.number(node, 0x0202):
            self.fault(node["where"], f"its length is {self.number(node, 0x0202)}, and its parts add up to {total}")

    def check_meaning(self):
        content = self.root["kids"][2][0]["kids"][0x3B03][0]
        mobs = {n["props"][0x4401][1]: n for n in content["kids"].get(0x1901, [])}
        essence = {n["props"][0x2701][1] for n in content["kids"].get(0x1902, [])}
        for node in self.walk(content):
            if self.is_a(node, "Sequence"):
                self.check_sequence(node)
            if 0x1101 in node["props"]:
                source = node["props"][0x1101][1]
                if any(source) and source not in mobs:
                    self.fault(node["where"], "its source mob is not in the file")
                elif any(source):
                    slots = {self.number(s, 0x4801) for s in mobs[source]["kids"].get(0x4403, [])}
                    if self.number(node, 0x1102) not in slots:
                        self.fault(node["where"], f"its source mob has no slot {self.number(node, 0x1102)}")
            for pid in (0x4402, 0x4802):
                if pid in node["props"] and any(ord(c) < 32 for c in text(node["props"][pid][1])):
                    self.fault(node["where"], "a name with control characters")
        for key, mob in mobs.items():
            slots = [self.number(s, 0x4801) for s in mob["kids"].get(0x4403, [])]
            if len(set(slots)) != len(slots) or 0 in slots:
                self.fault(mob["where"], f"slots {slots}")
            descriptor = mob["kids"].get(0x4701, [None])[0]
            if descriptor and self.is_a(descriptor, "FileDescriptor"):
                located = 0x2F01 in descriptor["props"]
                if (key in essence) == located and not (key in essence and located):
                    self.fault(mob["where"], "a file mob with neither essence nor locator")
        for key in essence - set(mobs):
            self.fault("EssenceData", f"{key.hex()} belongs to no mob")

    def check(self):
        self.container()
        self.root = self.load(self.ole.root, "")
        self.describe()
        header = self.root["kids"][2][0]
        for node in self.walk(header):
            self.check_object(node)
        for node in self.walk(self.root["kids"][1][0]):
            self.check_object(node)
        self.check_weak()
        self.check_meaning()
        self.ole.close()
        return self.faults


def main():
    sys.setrecursionlimit(100_000)
    with open(sys.argv[1], encoding="utf-8") as f:
        model = json.load(f)
    faults = []
    for path in sys.argv[2:]:
        checker = Checker(path, model)
        found = checker.check()
        faults += found
        print(f"{path}: {checker.objects} objects, {len(found)} faults")
    for fault in faults[:50]:
        print(fault)
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
