"""Makes what `ventmap.compiled` uses; without a C compiler it says so, and the sources run as they are."""

from __future__ import annotations

import os
import shutil
import sys

from mypyc.build import mypycify
from setuptools import setup

from .compiled import FOLDER, PACKAGE, is_fresh, mark, sources


def make() -> None:
    """Compile, in a folder beside, and swap it in."""
    made, work = FOLDER.with_name("compiled.new"), FOLDER.with_name("compiled.work")
    shutil.rmtree(made, ignore_errors=True)
    before = mark()
    work.mkdir(parents=True, exist_ok=True)
    (work / "mypy.ini").write_text("[mypy]\nplugins = pydantic.mypy\nignore_missing_imports = True\n")
    paths = [str(path.relative_to(PACKAGE.parent)) for path in sources()]
    os.chdir(PACKAGE.parent)
    extensions = mypycify(
        [f"--config-file={work / 'mypy.ini'}", *paths],
        opt_level="2",
        debug_level="0",
        target_dir=str(work),
    )
    setup(
        name="ventmap-compiled",
        packages=[],
        py_modules=[],
        ext_modules=extensions,
        script_args=["--quiet", "build_ext", f"--build-lib={made}", f"--build-temp={work}"],
    )
    (made / "mark").write_text(before)
    shutil.rmtree(FOLDER, ignore_errors=True)
    made.rename(FOLDER)
    shutil.rmtree(work, ignore_errors=True)


if __name__ == "__main__":
    if not is_fresh():
        try:
            make()
        except SystemExit:
            sys.exit("Pretend vehicles run uncompiled: Debian's gcc and python3-dev would make them faster.")
