"""The house itself: layers that stay apart, files that stay short, documents that stay true, and missing
prerequisites named.
"""

from __future__ import annotations

import ast
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from tests.conftest import ROOT
from tests.source import parsed
from ventmap.server.commands.management.commands.write_formats import published

TRACKED = [
    ROOT / name
    for name in subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.splitlines()
]
CORE = [path for path in TRACKED if "ventmap/core/" in str(path) and path.suffix == ".py"]


def code_lines(path: Path) -> int:
    return sum(1 for line in path.read_text(encoding="utf-8").splitlines() if line.strip())


def test_core_reads_no_disk_clock_or_network():
    for path in CORE:
        for node in ast.walk(parsed(path.read_text())):
            name = node.func.id if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) else ""
            assert name not in ("open", "print", "input", "exec", "eval"), path
            if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
                called = f"{node.value.id}.{node.attr}"
                assert called not in (
                    "datetime.now",
                    "time.time",
                    "random.random",
                    "np.load",
                    "pl.scan_csv",
                ), f"{path}: {called}"


def test_nothing_reaches_past_the_door_of_a_room():
    """A room is used by the names that its `__init__` hands on; no file hands on a sibling's names."""
    doors = [path for path in CORE if path.name == "__init__.py"]
    rooms = {path.parent.name for path in doors if path.parent.parent.name == "core"}
    assert len(rooms) == 17
    for path in (p for p in TRACKED if p.suffix == ".py"):
        room = path.parts[path.parts.index("core") + 1] if path in CORE and path.parent.name != "core" else ""
        for node in ast.walk(parsed(path.read_text())):
            if not isinstance(node, ast.ImportFrom):
                continue
            if node.level >= 2 and room:
                parts = (node.module or "").split(".")
                inside = path.parent.name == "records" and node.level == 2
                assert inside or len(parts) == 1, f"{path}: {'.' * node.level}{node.module}"
            if not node.level and (node.module or "").startswith("ventmap.core."):
                assert node.module.count(".") == 2, f"{path}: {node.module}"
        if room and path.name != "__init__.py":
            assert "__all__" not in path.read_text(), f"{path} hands on names; its room does that"


def test_past_the_door_nobody_reads_a_body_by_key():
    """What stands on the shelf is a record: bodies are parsed in `shelf/services.py` alone."""
    for path in (p for p in TRACKED if "ventmap" in p.parts and p.suffix == ".py"):
        for line in path.read_text().splitlines():
            reads = re.search(r"(?<!request)\.body(\[|\.get\()", line)
            assert not reads, f"{path}: {line.strip()}"


def test_lines_are_laid_out_by_the_formatter():
    skips = [path for path in TRACKED if path.suffix == ".py" and "# fmt: skip" in path.read_text()]
    assert len([path for path in skips if path.name != "test_house.py"]) < 40


def test_published_schemas_are_those_of_the_records():
    for name, text in published().items():
        assert (ROOT / "formats" / name).read_text() == text, f"{name}: run bin/types"


def test_no_two_schemas_of_the_api_have_one_name():
    """The document of the API would keep one of them, and the screens be typed by the wrong one."""
    names: dict[str, set[Path]] = {}
    for path in (p for p in TRACKED if "server" in p.parts and "ventmap" in p.parts and p.suffix == ".py"):
        for node in parsed(path.read_text()).body:
            if isinstance(node, ast.ClassDef) and re.search(r"(In|Out|IO)$", node.name):
                names.setdefault(node.name, set()).add(path)
    assert {name: paths for name, paths in names.items() if len(paths) > 1} == {}


def test_public_names_of_the_core_say_what_they_do():
    for path in CORE:
        tree = parsed(path.read_text())
        assert ast.get_docstring(tree), path
        for node in tree.body:
            if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                assert ast.get_docstring(node), f"{path.name}: {node.name}"


def test_files_stay_below_three_hundred_lines():
    made = {"package-lock.json", "requirements.txt", "requirements-dev.txt", "schema.d.ts"}
    code = [
        p
        for p in TRACKED
        if p.suffix in (".py", ".ts", ".tsx", ".css")
        and p.name not in made
        and "migrations" not in p.parts
        and "tests" not in p.parts
    ]
    assert {path.name: code_lines(path) for path in code if code_lines(path) > 300} == {}


def test_documents_name_only_what_is_there():
    for name in ("README.md", "docs/guide.md", "docs/architecture.md"):
        text = (ROOT / name).read_text()
        for target in re.findall(r"\]\(([^)#]+)\)", text):
            if "://" not in target:
                assert ((ROOT / name).parent / target).exists(), f"{name}: {target}"
        for named in re.findall(r"`((?:core|server|link|web|formats|parts|maps)/[\w/.-]+?)`", text):
            places = [
                ROOT / "ventmap" / named,
                ROOT / named,
                ROOT / "web" / "src" / named,
                ROOT / "ventmap" / "server" / named,
            ]
            assert any(place.exists() for place in places), f"{name}: {named}"
    assert len((ROOT / "docs" / "architecture.md").read_text().splitlines()) < 90, "two screens"


@pytest.fixture
def tools(tmp_path):
    """A PATH with the plain tools of Debian and nothing else."""
    for tool in (
        "bash",
        "env",
        "dirname",
        "printf",
        "cut",
        "sha256sum",
        "id",
        "cat",
        "find",
        "sort",
        "xargs",
        "dpkg-query",
        "grep",
        "sed",
        "uname",
        "python3",
        "node",
        "npm",
    ):
        place = subprocess.run(["which", tool], capture_output=True, text=True).stdout.strip()
        if place:
            (tmp_path / tool).symlink_to(place)
    (tmp_path / "python3").unlink(missing_ok=True)
    (tmp_path / "python3").symlink_to(os.path.realpath(sys.executable))
    return tmp_path


@pytest.mark.parametrize(
    ("lacking", "says"),
    [
        ("python3", "Python 3.11 or newer is missing"),
        ("node", "Node.js 20 or newer is missing"),
        ("npm", "npm is missing"),
    ],
)
def test_what_is_missing_is_named_in_one_sentence(tools, lacking, says):
    (tools / lacking).unlink()
    done = subprocess.run(
        ["bash", str(ROOT / "bin" / "setup")],
        env={"PATH": str(tools), "HOME": os.environ["HOME"]},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 1
    assert says in done.stderr
    assert len(done.stderr.strip().splitlines()) == 1
    assert done.stderr.strip().endswith(".")


def test_demo_explains_itself():
    done = subprocess.run(["bash", str(ROOT / "bin" / "demo"), "--help"], capture_output=True, text=True)
    assert done.returncode == 2
    assert "usage: bin/demo [--fresh] [--port N]" in done.stderr
