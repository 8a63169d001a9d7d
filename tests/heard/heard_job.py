"""A whole job through AT-SPI, as somebody does it who hears the window and never sees it: a job is begun, its piece set
up, read, evaluated and signed, with no mouse and no key. The window runs on a display of its own (tests/heard/run).

    heard_job.py FORTITOR FORTITORCTL
"""

import subprocess
import sys
import tempfile
import time

import pyatspi
from gi.repository import GLib

PATIENCE = 60  # seconds that a slow machine may take for one step


def children(thing):
    try:
        return [c for c in (thing.getChildAtIndex(i) for i in range(thing.childCount)) if c is not None]
    except Exception:  # it went away while it was looked at
        return []


def shown(thing):
    for child in children(thing):
        try:
            if not child.getState().contains(pyatspi.STATE_SHOWING):
                continue
        except Exception:
            continue
        yield child
        yield from shown(child)


def waited(look, what):
    """What `look` finds, as soon as it finds it; anything that went away meanwhile is looked for again."""
    until = time.monotonic() + PATIENCE
    said = ""
    while time.monotonic() < until:
        while GLib.MainContext.default().iteration(False):  # what the window tells by itself
            pass
        try:
            found = look()
            if found:
                return found
        except Exception as e:
            said = str(e)
        time.sleep(0.05)
    raise SystemExit(f"waited in vain for {what} {said}")


# What the window told without being asked: a kind of change and the name of what changed.
told = set()


def listen():
    def note(event):
        try:
            told.add((event.type.split(":")[-1].split("(")[0], event.source.name))
        except Exception:  # it went away while it was told
            pass

    pyatspi.Registry.registerEventListener(
        note, "object:property-change:accessible-description", "object:children-changed", "object:selection-changed"
    )


class Window:
    def __init__(self, program, book):
        self.process = subprocess.Popen([program, book])
        self.app = waited(self.application, "the application")

    def application(self):
        return next((a for a in pyatspi.Registry.getDesktop(0) if a and a.name == "fortitor"), None)

    def find(self, role, name):
        return next((c for c in shown(self.app) if c.getRoleName() == role and c.name == name), None)

    def parts(self, list_name):
        painted = self.find("list", list_name)
        if painted is None:
            return []
        painted.clearCache()
        parts = children(painted)
        for part in parts:
            part.clearCache()
        return parts

    def act(self, look, action, what):
        def once():
            thing = look()
            if thing is None:
                return False
            actions = thing.queryAction()
            names = [actions.getName(i) for i in range(actions.nActions)]
            return action in names and actions.doAction(names.index(action))

        waited(once, what)

    def push(self, name):
        self.act(lambda: self.find("push button", name), "Press", name)

    def tick(self, name):
        self.act(lambda: self.find("check box", name), "Toggle", name)

    def open_part(self, name, of):
        self.act(lambda: next((p for p in self.parts(of) if p.name == name), None), "Press", name)

    def fill(self, name, text, enter=True):
        def put():
            line = self.find("text", name)
            if line is None:
                return False
            line.queryEditableText().setTextContents(text)
            return True

        waited(put, name)
        if enter:
            self.act(lambda: self.find("text", name), "Press", name)

    def choose(self, name, begins):
        def step():
            box = self.find("combo box", name)
            box.clearCache()
            if box.description.startswith(begins):
                return True
            actions = box.queryAction()
            actions.doAction([actions.getName(i) for i in range(actions.nActions)].index("Increase"))
            return False

        waited(step, f"{name}: {begins}")

    def result(self, name):
        return waited(lambda: next((p for p in self.parts("Results") if p.name == name), None), name).description


def main():
    program, ctl = sys.argv[1:3]
    listen()
    with tempfile.TemporaryDirectory() as folder:
        book = f"{folder}/heard.fortitor"
        w = Window(program, book)
        try:
            w.push("New job…")
            for name, text in (("Number", "TC-050"), ("Title", "Sheave pins"), ("Series", "Heads")):
                w.fill(name, text, enter=False)
            w.fill("Specimens", "SP-01", enter=False)
            w.choose("Method", "Rockwell")
            w.push("Create")
            waited(lambda: any(p.name == "SP-01" for p in w.parts("Docket")), "the piece in the docket")
            w.fill("Material", "42CrMo4")
            w.fill("Family", "alloy steel")
            w.choose("Scale", "HRC")
            w.fill("Rockwell hardness, mean of the readings, at least", "40")
            w.open_part("Set up", of="Stages")
            w.fill("Block, certified hardness", "45.0")
            w.fill("Block, tolerance ±", "1.0")
            for i, read in enumerate(("45.2", "44.9", "45.1")):
                w.fill(f"Block before the work {i + 1}", read)
            for check in (
                "Indenter of the scale, whole and tight",
                "Anvil clean, piece lies firm",
                "Weights as said, hanging free",
            ):
                w.tick(check)
            w.push("Go to the machine")
            for i, read in enumerate(("42.1", "41.8", "42.4", "42.0", "42.2")):
                waited(lambda: w.find("label", f"reading {i + 1} of 5"), f"the call for reading {i + 1}")
                w.fill("Reading", read)
            # A row was not there, and then it had a value: told, not only found by who asks again.
            waited(lambda: ("accessible-description", "2") in told, "the change of a row to be told")
            w.push("E  end")
            w.open_part("After", of="Stages")
            for i, read in enumerate(("45.1", "45.0", "45.2")):
                w.fill(f"Block after the work {i + 1}", read)
            w.open_part("Evaluate", of="Stages")
            heard = w.result("Rockwell hardness, mean of the readings")
            assert heard.startswith("42.10 ±") and heard.endswith(", meets"), heard
            mean = waited(
                lambda: next((p for p in w.parts("Hardness by indent") if p.name == "mean"), None), "the figure's mean"
            )
            assert mean.description == "42.10", mean.description
            waited(lambda: any(p.name == "Run" and p.description == "done" for p in w.parts("Stages")), "a run that is done")
            w.open_part("Sign off", of="Stages")
            w.push("Sign")
            waited(
                lambda: any(c.getRoleName() == "label" and c.name.startswith("Signed by") for c in shown(w.app)),
                "the signature",
            )
        finally:
            w.process.terminate()
            w.process.wait()
        listed = subprocess.run([ctl, "book", book, "--list"], capture_output=True, text=True, check=True).stdout
        assert listed.split("\t") == ["TC-050", "Heads", "SP-01", "hardness-rockwell", "meets\n"], listed
        subprocess.run([ctl, "check", book], check=True, stdout=subprocess.DEVNULL)
    print("a whole job was heard and done")


main()
