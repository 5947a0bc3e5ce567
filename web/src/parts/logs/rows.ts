/** Rows of lanes by what somebody wants to see; each lane one or two channels, those that the log has. */
export const ROWS: Record<string, string[][]> = {
  usual: [
    ["rpm"],
    ["map", "map_target"],
    ["lambda", "lambda_target"],
    ["stft_1", "ltft_1"],
    ["pulse"],
    ["knock"],
    ["egt_1", "egt_2"],
    ["iat", "coolant"],
    ["battery"],
  ],
  mixture: [
    ["lambda", "lambda_target"],
    ["lambda_2"],
    ["stft_1", "ltft_1"],
    ["stft_2", "ltft_2"],
    ["pulse", "duty"],
    ["map"],
    ["rpm"],
  ],
  boost: [["map", "map_target"], ["wastegate"], ["pedal", "throttle"], ["baro"], ["iat"], ["rpm"]],
  knock: [["knock"], ["spark"], ["iat"], ["map"], ["lambda", "lambda_target"], ["rpm"]],
  "fuel supply": [["feed"], ["rail"], ["duty", "pulse"], ["lambda", "lambda_target"], ["ethanol"], ["rpm"]],
  temperatures: [
    ["coolant", "head_temp"],
    ["iat", "ambient"],
    ["oil_temp"],
    ["egt_1", "egt_2"],
    ["egt_3", "egt_4"],
    ["rpm"],
  ],
  electrics: [["battery"], ["rpm"], ["idle_target"], ["oil_pressure"]],
  drive: [
    ["speed", "gear"],
    ["front_speed", "rear_speed"],
    ["slip"],
    ["pedal", "throttle"],
    ["rpm"],
    ["map"],
  ],
};
/** So many lanes are in view at once. */
export const LANES = 6;

/** The lanes of a row that a log can fill. */
export const filled = (row: string[][], has: Set<string>): string[][] =>
  row.map((names) => names.filter((name) => has.has(name))).filter((names) => names.length > 0);
