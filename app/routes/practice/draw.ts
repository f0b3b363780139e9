import { dotGoneAt, dropSize, hexOf, lookOf, standardColour, type Vessel } from "#core";
import { numberText, words } from "../../words";

/** The picture of a vessel on a canvas; all of it is drawn anew for each frame. */

export interface Scene {
  vessel: Vessel;
  /** Milliseconds, for what moves. */
  time: number;
  swirling: boolean;
  /** Of the bottle, degrees off the vertical. */
  angle: number;
  /** When the last drop fell, ms; it falls for a moment. */
  droppedAt: number;
  /** Nothing moves. */
  still: boolean;
  /** Light and dark in place of red and green: how far along it is, 0…1. */
  shade: number | null;
  /** Standards of a comparator that are held beside the sample. */
  standards: readonly number[];
}

const FALL_MS = 260;
/** Plumes are this many soft spots. */
const SPOTS = 7;

export function drawScene(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  scene: Scene,
): void {
  const { vessel } = scene;
  context.clearRect(0, 0, width, height);
  backdrop(context, width, height, vessel);
  if (vessel.method.kind === "turbidity") drawTube(context, width, height, scene);
  else drawVessel(context, width, height, scene);
  if (vessel.light === "tinted") {
    context.fillStyle = "rgba(96, 74, 40, 0.42)";
    context.fillRect(0, 0, width, height);
  }
}

function backdrop(context: CanvasRenderingContext2D, width: number, height: number, { light }: Vessel): void {
  context.fillStyle = light === "sun" ? "#d9cf9c" : "#ffffff";
  context.fillRect(0, 0, width, height);
  if (light !== "sun") return;
  // Glare on what is behind, and grass.
  const glare = context.createRadialGradient(
    width * 0.7,
    height * 0.2,
    4,
    width * 0.7,
    height * 0.2,
    width * 0.6,
  );
  glare.addColorStop(0, "rgba(255, 255, 240, 0.95)");
  glare.addColorStop(1, "rgba(150, 160, 90, 0.55)");
  context.fillStyle = glare;
  context.fillRect(0, 0, width, height);
}

/** Height to which a vessel of so many mL is filled, of its whole. */
const fillShare = ({ millilitres, line }: Vessel): number => (0.72 * millilitres) / line;

function drawVessel(context: CanvasRenderingContext2D, width: number, height: number, scene: Scene): void {
  const { vessel, time, swirling, still } = scene;
  const isCell = vessel.method.kind === "comparator";
  const wide = Math.min(width * (isCell ? 0.26 : 0.42), height * 0.5);
  const high = height * (isCell ? 0.62 : 0.68);
  const lean = swirling && !still ? Math.sin(time / 70) * wide * 0.05 : 0;
  const left = (width - wide) / 2 + lean;
  const bottom = height * 0.95;
  const top = bottom - high;
  const look = lookOf(vessel);
  const level = bottom - high * Math.min(1.02, fillShare(vessel));
  const slosh = swirling && !still ? Math.sin(time / 55) * wide * 0.045 : 0;
  context.save();
  context.beginPath();
  context.roundRect(left, top, wide, high, [4, 4, wide * 0.14, wide * 0.14]);
  context.clip();
  if (vessel.millilitres > 0) {
    context.fillStyle = shaded(hexOf(look.colour), scene.shade);
    context.beginPath();
    context.moveTo(left, level + slosh);
    // The bottom of the curve is in the middle.
    context.quadraticCurveTo(left + wide / 2, level + wide * 0.07, left + wide, level - slosh);
    context.lineTo(left + wide, bottom);
    context.lineTo(left, bottom);
    context.fill();
    plume(context, left, level, wide, bottom, scene, hexOf(look.plume), look.plumeShare);
    specks(context, left, level, wide, bottom, look.specks, time, swirling && !still);
  }
  context.restore();
  glass(context, left, top, wide, high);
  // The line, at eye level.
  const lineY = bottom - high * 0.72 + wide * 0.035;
  context.strokeStyle = "#33312b";
  context.lineWidth = 2;
  context.beginPath();
  context.moveTo(left, lineY);
  context.lineTo(left + wide * 0.24, lineY);
  context.stroke();
  context.fillStyle = "#33312b";
  context.font = "600 14px system-ui, sans-serif";
  context.textAlign = "right";
  // Beside a comparator's cell stand its standards.
  if (!isCell)
    context.fillText(words.milliliters({ amount: numberText(vessel.line, 1) }), left - 8, lineY + 5);
  if (isCell) drawStandards(context, width, height, wide, scene);
  else if (vessel.method.kind === "titration") bottle(context, width, top, scene, level);
}

function plume(
  context: CanvasRenderingContext2D,
  left: number,
  level: number,
  wide: number,
  bottom: number,
  { time, still, shade }: Scene,
  colour: string,
  share: number,
): void {
  if (share < 0.04) return;
  for (let spot = 0; spot < SPOTS; spot++) {
    const drift = still ? 0 : Math.sin(time / 600 + spot * 1.7) * wide * 0.05;
    const x = left + wide * (0.5 + 0.14 * Math.sin(spot * 2.4)) + drift;
    const y = level + (bottom - level) * (0.12 + (0.75 * spot * share) / SPOTS);
    const size = wide * (0.1 + 0.035 * spot);
    const cloud = context.createRadialGradient(x, y, 0, x, y, size);
    cloud.addColorStop(
      0,
      alpha(shaded(colour, shade === null ? null : Math.min(1, shade + 0.4)), 0.75 * share),
    );
    cloud.addColorStop(1, alpha(shaded(colour, shade), 0));
    context.fillStyle = cloud;
    context.beginPath();
    context.arc(x, y, size, 0, 2 * Math.PI);
    context.fill();
  }
}

function specks(
  context: CanvasRenderingContext2D,
  left: number,
  level: number,
  wide: number,
  bottom: number,
  share: number,
  time: number,
  moving: boolean,
): void {
  context.fillStyle = "rgba(110, 50, 130, 0.8)";
  for (let speck = 0; speck < share * 36; speck++) {
    const turn = moving ? time / 300 : 0;
    const x = left + wide * (0.5 + 0.44 * Math.sin(speck * 12.9898 + turn));
    const y = level + (bottom - level) * (0.1 + 0.85 * Math.abs(Math.sin(speck * 78.233 + turn / 3)));
    context.fillRect(x, y, 2.2, 2.2);
  }
}

function glass(
  context: CanvasRenderingContext2D,
  left: number,
  top: number,
  wide: number,
  high: number,
): void {
  context.strokeStyle = "rgba(60, 60, 60, 0.7)";
  context.lineWidth = 2;
  context.beginPath();
  context.roundRect(left, top, wide, high, [4, 4, wide * 0.14, wide * 0.14]);
  context.stroke();
  context.fillStyle = "rgba(255, 255, 255, 0.25)";
  context.fillRect(left + wide * 0.08, top + 6, wide * 0.06, high - 18);
}

/** The titrant bottle over the vessel, and the drop that falls from it. */
function bottle(
  context: CanvasRenderingContext2D,
  width: number,
  top: number,
  scene: Scene,
  level: number,
): void {
  const tip = { x: width / 2, y: Math.max(34, top - 10) };
  context.save();
  context.translate(tip.x, tip.y);
  context.rotate((scene.angle * Math.PI) / 180);
  context.fillStyle = "#e9e6dc";
  context.strokeStyle = "#33312b";
  context.lineWidth = 1.5;
  context.beginPath();
  context.moveTo(0, 0);
  context.lineTo(-5, -14);
  context.lineTo(-15, -24);
  context.lineTo(-15, -74);
  context.lineTo(15, -74);
  context.lineTo(15, -24);
  context.lineTo(5, -14);
  context.closePath();
  context.fill();
  context.stroke();
  context.restore();
  const fallen = (scene.time - scene.droppedAt) / FALL_MS;
  if (scene.still || fallen < 0 || fallen >= 1) return;
  const size = 4.5 * Math.cbrt(dropSize(scene.angle));
  context.fillStyle = "rgba(40, 60, 90, 0.75)";
  context.beginPath();
  context.ellipse(tip.x, tip.y + 6 + (level - tip.y) * fallen * fallen, size * 0.8, size, 0, 0, 2 * Math.PI);
  context.fill();
}

/** Between two standards, pixels. */
const GAP = 3;

/** Standards left and right of the sample, each with its number. */
function drawStandards(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  wide: number,
  scene: Scene,
): void {
  const { standards, vessel } = scene;
  const half = Math.ceil(standards.length / 2);
  const room = (width - wide) / 2 - 10;
  const each = Math.min(64, room / half - GAP);
  standards.forEach((mark, index) => {
    const x =
      index < half
        ? (width - wide) / 2 - 6 - (half - index) * (each + GAP)
        : (width + wide) / 2 + 8 + (index - half) * (each + GAP);
    context.fillStyle = shaded(
      hexOf(standardColour(vessel.method, mark)),
      scene.shade === null
        ? null
        : (mark - (standards[0] ?? 0)) / Math.max(1e-9, (standards.at(-1) ?? 1) - (standards[0] ?? 0)),
    );
    context.fillRect(x, height * 0.44, each, height * 0.5);
    context.strokeStyle = "rgba(60, 60, 60, 0.6)";
    context.strokeRect(x, height * 0.44, each, height * 0.5);
    context.fillStyle = "#1d1c19";
    context.font = "600 13px system-ui, sans-serif";
    context.textAlign = "center";
    context.fillText(String(mark), x + each / 2, height * 0.42);
  });
}

/** The tube from the side with its lines, and what is seen from above: the dot. */
function drawTube(context: CanvasRenderingContext2D, width: number, height: number, { vessel }: Scene): void {
  const look = lookOf(vessel);
  const high = height * 0.86;
  const top = height * 0.07;
  const left = width * 0.14;
  const wide = Math.min(56, width * 0.14);
  const isCloudy = vessel.mixing.some(({ how }) => how === "shake");
  context.fillStyle = isCloudy ? "#dcdad0" : "#eef0f0";
  context.fillRect(left, top + high * (1 - vessel.level), wide, high * vessel.level);
  context.strokeStyle = "#33312b";
  context.lineWidth = 2;
  context.strokeRect(left, top, wide, high);
  context.font = "600 13px system-ui, sans-serif";
  context.textAlign = "left";
  const marks = "marks" in vessel.method ? vessel.method.marks : [];
  for (const mark of marks) {
    const y = top + high * (1 - dotGoneAt(mark));
    context.beginPath();
    context.moveTo(left + wide, y);
    context.lineTo(left + wide + 10, y);
    context.stroke();
    context.fillStyle = "#1d1c19";
    if (mark <= 60 || mark % 20 === 0) context.fillText(String(mark), left + wide + 14, y + 4);
  }
  const x = width * 0.66;
  const y = height * 0.5;
  const size = Math.min(width * 0.24, height * 0.36);
  context.fillStyle = isCloudy ? "#d9d7cc" : "#f4f3ee";
  context.beginPath();
  context.arc(x, y, size, 0, 2 * Math.PI);
  context.fill();
  context.stroke();
  context.fillStyle = `rgba(20, 20, 20, ${Math.max(0, (look.dot - 0.02) / 0.98)})`;
  context.beginPath();
  context.arc(x, y, size * 0.28, 0, 2 * Math.PI);
  context.fill();
}

/** A colour with its lightness told by how far along it is: dark at the start, light at the end. */
function shaded(hex: string, shade: number | null): string {
  if (shade === null) return hex;
  const light = Math.round(40 + 195 * Math.min(1, Math.max(0, shade)));
  return `rgb(${light}, ${light}, ${Math.min(255, light + 12)})`;
}

function alpha(colour: string, share: number): string {
  const parts = colour.startsWith("#")
    ? [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16))
    : (colour.match(/\d+/g) ?? []).map(Number);
  return `rgba(${parts.join(", ")}, ${share})`;
}
