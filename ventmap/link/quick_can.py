"""The CAN library without its reader of measurement files: that one is never used here, and costs a second of
every start. Imported before anything that brings the library in.
"""

from __future__ import annotations

import sys

if "can" not in sys.modules and "asammdf" not in sys.modules:
    sys.modules["asammdf"] = None  # type: ignore[assignment]
    try:
        import can  # noqa: F401
    finally:
        del sys.modules["asammdf"]
