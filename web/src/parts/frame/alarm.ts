/** A wait that ends is heard and felt: three tones and a vibration, once, where a finger has touched the page. */
const FRESH_MS = 5000;
const rung = new Set<number>();
let sound: AudioContext | null = null;

// Browsers let a page sound only after it was touched.
addEventListener(
  "pointerdown",
  () => {
    sound ??= new AudioContext();
    void sound.resume();
  },
  { passive: true },
);

/** Ring for a wait that has just ended; one that ended while nobody looked stays silent. */
export function ring(timer: number, endsAt: string): void {
  if (rung.has(timer) || Date.now() - Date.parse(endsAt) > FRESH_MS) return;
  rung.add(timer);
  navigator.vibrate?.([300, 120, 300, 120, 300]);
  document.dispatchEvent(new CustomEvent("ventmap:rang", { detail: timer }));
  if (!sound || sound.state !== "running") return;
  for (const at of [0, 0.35, 0.7]) {
    const tone = new OscillatorNode(sound, { frequency: 880 });
    const loud = new GainNode(sound, { gain: 0.4 });
    tone.connect(loud).connect(sound.destination);
    tone.start(sound.currentTime + at);
    tone.stop(sound.currentTime + at + 0.22);
  }
}

/** Tones of a capture: what is heard without a look at the screen. */
const TONES = {
  stop: [1320, 1320, 1320, 1320],
  hold: [660, 660],
  enough: [520, 780],
} as const;

/** Sound for those who drive: a stop, a hold, or *enough of this*. */
export function sounds(what: keyof typeof TONES): void {
  document.dispatchEvent(new CustomEvent("ventmap:sounds", { detail: what }));
  if (what === "stop") navigator.vibrate?.([200, 80, 200, 80, 200]);
  if (!sound || sound.state !== "running") return;
  TONES[what].forEach((frequency, n) => {
    const at = sound!.currentTime + n * 0.18;
    const tone = new OscillatorNode(sound!, { frequency });
    const loud = new GainNode(sound!, { gain: what === "stop" ? 0.7 : 0.4 });
    tone.connect(loud).connect(sound!.destination);
    tone.start(at);
    tone.stop(at + 0.13);
  });
}
