"""Write the licences of all that the built screens contain beside them: fonts and scripts, by the lock
file.

`coldstack/web_dist/licences.txt` goes into the wheel, and is served with the screens. Fails where a
package has no licence text.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

WEB = Path(__file__).resolve().parents[1] / "web"
TARGET = WEB.parent / "coldstack" / "web_dist" / "licences.txt"


def by_declaration(package: Path) -> str:
    """The licence of a package that declares MIT and ships no text: that text with its author's name;
    empty for any other."""
    about = json.loads((package / "package.json").read_text(encoding="utf-8"))
    author = about.get("author")
    name = author.get("name", "") if isinstance(author, dict) else str(author or "").split("<")[0].strip()
    if about.get("license") != "MIT" or not name:
        return ""
    ours = (WEB.parent / "LICENSE").read_text(encoding="utf-8")
    lines = [f"Copyright (c) {name}" if line.startswith("Copyright") else line for line in ours.splitlines()]
    return "\n".join(lines).strip()


def shipped(packages: dict[str, dict[str, Any]]) -> set[str]:
    """Places of the packages that are built into the screens: what the root needs but the tools that build
    them, and what those need."""
    tools = set(json.loads((WEB / "package.json").read_text(encoding="utf-8"))["tools"])
    found: set[str] = set()
    waiting = [("", name) for name in packages[""]["dependencies"] if name not in tools]
    while waiting:
        where, name = waiting.pop()
        place = _place(packages, where, name)
        if place is None or place in found:
            continue  # an optional one that is not here
        found.add(place)
        waiting += [(place, other) for other in packages[place].get("dependencies", {})]
    return found


def _place(packages: dict[str, dict[str, Any]], where: str, name: str) -> str | None:
    """Where a package finds another: beside itself, or further out."""
    while True:
        place = f"{where}/node_modules/{name}".lstrip("/")
        if place in packages:
            return place
        if not where:
            return None
        where = where.rpartition("/node_modules/")[0] if "/node_modules/" in where else ""


def main() -> None:
    """One entry a package, the same text only once."""
    packages = json.loads((WEB / "package-lock.json").read_text(encoding="utf-8"))["packages"]
    texts: dict[str, list[str]] = {}
    missing = []
    for place in sorted(shipped(packages)):
        about = packages[place]
        name = (
            f"{place.rpartition('node_modules/')[2]} {about.get('version', '')} "
            f"({about.get('license', 'see below')})"
        )
        found = [
            p for p in sorted((WEB / place).glob("*")) if p.name.lower().startswith(("licen", "copying"))
        ]
        text = (
            found[0].read_text(encoding="utf-8", errors="replace").strip()
            if found
            else by_declaration(WEB / place)
        )
        if text:
            texts.setdefault(text, []).append(name)
        else:
            missing.append(name)
    if missing:
        sys.exit(f"No licence text found for {', '.join(missing)}.")
    parts = ["\n".join(names) + "\n\n" + text for text, names in texts.items()]
    rule = "\n\n" + "-" * 72 + "\n\n"
    TARGET.write_text(
        "What the screens of Cold Stack contain, and under which licences." + rule + rule.join(parts) + "\n",
        encoding="utf-8",
    )


if __name__ == "__main__":
    main()
