import { tonesFor } from "#core";
import { spoken } from "../../words";

/** How a paced count calls its numbers. */
export const CALLS = ["voice", "tones", "silent"] as const;
export type Call = (typeof CALLS)[number];

const TONES = {
  ten: { hertz: 330, seconds: 0.22 },
  five: { hertz: 880, seconds: 0.11 },
  one: { hertz: 587, seconds: 0.07 },
} as const;
const GAP = 0.05;

let audio: AudioContext | null = null;

/** Browsers let a page sound only after a tap; call this from one. */
export function wakeSound(): void {
  if (typeof AudioContext === "undefined") return;
  audio ??= new AudioContext();
  void audio.resume();
}

/** A voice of this device that speaks the language of the page; the region's own before others. */
function voice(): SpeechSynthesisVoice | undefined {
  if (typeof speechSynthesis === "undefined") return undefined;
  const { locale } = spoken();
  const [language] = locale.split("-");
  // Some devices write "es_US".
  const ours = speechSynthesis.getVoices().filter(({ lang }) => lang.split(/[-_]/)[0] === language);
  return ours.find(({ lang }) => lang.replace("_", "-") === locale) ?? ours[0];
}

/** Calls a number: spoken where the device has a voice, else as a pattern of tones. */
export function callNumber(drops: number, how: Call): void {
  if (how === "silent") return;
  if (how === "voice" && voice()) {
    say(String(drops));
    return;
  }
  if (!audio) return;
  let at = audio.currentTime;
  for (const name of tonesFor(drops)) {
    const { hertz, seconds } = TONES[name];
    tone(audio, hertz, at, seconds);
    at += seconds + GAP;
  }
}

/** Says a word, on a device with a voice for it. */
export function say(text: string): void {
  const found = voice();
  if (!found) return;
  speechSynthesis.cancel();
  const utterance = new SpeechSynthesisUtterance(text);
  utterance.voice = found;
  utterance.lang = found.lang;
  utterance.rate = 1.15;
  speechSynthesis.speak(utterance);
}

/** Two rising tones: a timer has run out. */
export function chime(): void {
  if (!audio) return;
  tone(audio, 660, audio.currentTime, 0.18);
  tone(audio, 990, audio.currentTime + 0.2, 0.3);
}

export function stopSpeaking(): void {
  if (typeof speechSynthesis !== "undefined") speechSynthesis.cancel();
}

function tone(context: AudioContext, hertz: number, at: number, seconds: number): void {
  const oscillator = context.createOscillator();
  const loudness = context.createGain();
  oscillator.frequency.value = hertz;
  // Swelled and faded, or the ends click.
  loudness.gain.setValueAtTime(0, at);
  loudness.gain.linearRampToValueAtTime(0.35, at + 0.01);
  loudness.gain.setValueAtTime(0.35, at + seconds - 0.02);
  loudness.gain.linearRampToValueAtTime(0, at + seconds);
  oscillator.connect(loudness).connect(context.destination);
  oscillator.start(at);
  oscillator.stop(at + seconds);
}

/** A drop that falls into water: short, and a little lower than it began. */
export function drip(): void {
  if (audio) tone(audio, 1250, audio.currentTime, 0.045);
}
