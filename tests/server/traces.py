"""A short trace of three signals in each kind of file, and the DBC that names them."""

from __future__ import annotations

import tempfile
from pathlib import Path

import can

DBC = """VERSION ""
NS_ :
BS_:
BU_: ECU
BO_ 256 Engine: 8 ECU
 SG_ EngineSpeed : 0|16@1+ (0.25,0) [0|16000] "rpm" ECU
 SG_ ManifoldPressure : 16|16@1+ (0.1,0) [0|400] "kPa" ECU
BO_ 512 Temps: 8 ECU
 SG_ CoolantTemp : 0|8@1+ (1,-40) [-40|215] "degC" ECU
"""
WRITERS = {".asc": can.ASCWriter, ".blf": can.BLFWriter, ".trc": can.TRCWriter, ".log": can.CanutilsLogWriter}


def trace(ending: str, frames: int = 200) -> bytes:
    """900 rpm and one more each 20 ms, 80 kPa; 85 °C every tenth; frames that nothing names between."""
    began = 1e9 if ending == ".log" else 0.0
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"bus{ending}"
        writer = WRITERS[ending](str(path))
        for n in range(frames):
            at, rpm = began + 0.02 * n, 4 * (900 + n)
            frame = {"timestamp": at, "is_extended_id": False}
            writer.on_message_received(
                can.Message(arbitration_id=256, data=[rpm & 255, rpm >> 8, 32, 3, 0, 0, 0, 0], **frame)
            )
            if n % 10 == 0:
                writer.on_message_received(can.Message(arbitration_id=512, data=[125] * 8, **frame))
                writer.on_message_received(can.Message(arbitration_id=700, data=[1, 2], **frame))
        writer.stop()
        return path.read_bytes()
