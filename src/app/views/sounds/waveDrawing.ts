import type { Audio } from '../../../core/dsp/sample';
import type { SamplePoint } from '../../../core/rig/edits/zones';
import type { Zone } from '../../../core/rig/schema';

export type Marker = SamplePoint;
export const MARKERS: readonly Marker[] = ['start', 'end', 'loop.start', 'loop.end', 'loop.crossfade'];

/** Pixels by which a press may miss a line. */
const REACH = 9;

/**
 * The line that a press takes. Start and end are held by their flags above, the loop by those below; a line is held
 * anywhere where nothing else is near. Undefined: none is.
 */
export function nearestMarker(
  frames: Record<Marker, number | undefined>,
  xOf: (frame: number) => number,
  x: number,
  isLow: boolean,
): Marker | undefined {
  let nearest: Marker | undefined;
  let least = REACH;
  for (const marker of MARKERS) {
    const frame = frames[marker];
    if (frame === undefined) continue;
    const other = marker.startsWith('loop.') === isLow ? 0 : 4;
    const distance = Math.abs(xOf(frame) - x) + other + (marker === 'loop.crossfade' ? 2 : 0);
    if (distance >= least) continue;
    nearest = marker;
    least = distance;
  }
  return nearest;
}

/** The frames in view. */
export interface Span {
  from: number;
  to: number;
}
export interface WaveColours {
  colour: string;
  ink: string;
  sheet: string;
  line: string;
  faint: string;
  loop: string;
}

/**
 * Draws a sample between two frames like the profile of a shore line and its mirror image, with what plays, and the
 * loop with its crossfade.
 */
export function drawWave(
  context: CanvasRenderingContext2D,
  audio: Audio | null,
  zone: Zone,
  span: Span,
  width: number,
  height: number,
  look: WaveColours,
): void {
  context.globalAlpha = 1;
  context.fillStyle = look.sheet;
  context.fillRect(0, 0, width, height);
  const x = (frame: number) => ((frame - span.from) / (span.to - span.from)) * width;
  if (audio) drawSignal(context, audio, zone, span, width, height, look);
  const frames = audio ? audio.data.length / audio.channels : span.to;
  const { loop } = zone;
  if (loop) {
    context.globalAlpha = 0.13;
    context.fillStyle = look.loop;
    context.fillRect(x(loop.start), 0, x(loop.end) - x(loop.start), height);
    if (loop.crossfade > 0) {
      context.globalAlpha = 0.3;
      for (const end of [loop.end, loop.start]) {
        context.beginPath();
        context.moveTo(x(end - loop.crossfade), end === loop.end ? 0 : height);
        context.lineTo(x(end), end === loop.end ? height : 0);
        context.lineTo(x(end), end === loop.end ? 0 : height);
        context.closePath();
        context.fill();
      }
    }
    context.globalAlpha = 1;
    flag(context, x(loop.start), height, look, look.loop, 'right', true, 'loop');
    flag(context, x(loop.end), height, look, look.loop, 'left', true, 'loop');
  }
  context.globalAlpha = 1;
  flag(context, x(zone.start), height, look, look.ink, 'right', false, zone.reverse ? 'end' : 'start');
  flag(context, x(zone.end ?? frames), height, look, look.ink, 'left', false, zone.reverse ? 'start' : 'end');
}

function flag(
  context: CanvasRenderingContext2D,
  x: number,
  height: number,
  { sheet }: WaveColours,
  colour: string,
  side: 'left' | 'right',
  below: boolean,
  text: string,
): void {
  context.strokeStyle = context.fillStyle = colour;
  context.lineWidth = 1.5;
  context.beginPath();
  context.moveTo(x, 0);
  context.lineTo(x, height);
  context.stroke();
  context.font = '10.5px "Atkinson Hyperlegible Next", sans-serif';
  const wide = context.measureText(text).width + 8;
  const left = side === 'right' ? x : x - wide;
  const top = below ? height - 15 : 0;
  context.fillRect(left, top, wide, 15);
  context.fillStyle = sheet;
  context.fillText(text, left + 4, top + 11);
}

function drawSignal(
  context: CanvasRenderingContext2D,
  { data, channels }: Audio,
  zone: Zone,
  span: Span,
  width: number,
  height: number,
  look: WaveColours,
): void {
  const frames = data.length / channels;
  const lane = height / channels;
  const plays = (frame: number) => frame >= zone.start && frame < (zone.end ?? frames);
  for (let c = 0; c < channels; c++) {
    const middle = lane * (c + 0.5);
    const tall = lane * 0.46;
    context.strokeStyle = look.line;
    context.lineWidth = 0.8;
    context.beginPath();
    context.moveTo(0, middle);
    context.lineTo(width, middle);
    context.stroke();
    const perPixel = (span.to - span.from) / width;
    if (perPixel < 1.5) {
      drawFrames(context, data, channels, c, span, width, middle, tall, look);
      continue;
    }
    for (let px = 0; px < width; px++) {
      const from = Math.max(0, Math.floor(span.from + px * perPixel));
      const to = Math.min(frames, Math.max(from + 1, Math.floor(span.from + (px + 1) * perPixel)));
      let low = Infinity;
      let high = -Infinity;
      const step = Math.max(1, Math.floor((to - from) / 400));
      for (let i = from; i < to; i += step) {
        const y = data[i * channels + c];
        if (y < low) low = y;
        if (y > high) high = y;
      }
      if (low > high) continue;
      context.globalAlpha = plays(from) ? 0.85 : 0.25;
      context.fillStyle = look.colour;
      context.fillRect(px, middle - high * tall, 1, Math.max(1, (high - low) * tall));
    }
    context.globalAlpha = 1;
  }
}

/** So near that every frame is a point. */
function drawFrames(
  context: CanvasRenderingContext2D,
  data: Float32Array,
  channels: number,
  c: number,
  span: Span,
  width: number,
  middle: number,
  tall: number,
  look: WaveColours,
): void {
  const frames = data.length / channels;
  const x = (frame: number) => ((frame - span.from) / (span.to - span.from)) * width;
  context.strokeStyle = context.fillStyle = look.colour;
  context.lineWidth = 1.4;
  context.beginPath();
  const last = Math.min(frames - 1, Math.ceil(span.to));
  for (let i = Math.max(0, Math.floor(span.from)); i <= last; i++) {
    const y = middle - data[i * channels + c] * tall;
    if (i === Math.floor(span.from)) context.moveTo(x(i), y);
    else context.lineTo(x(i), y);
  }
  context.stroke();
  if (width / (span.to - span.from) < 4) return;
  for (let i = Math.max(0, Math.floor(span.from)); i <= last; i++) {
    context.beginPath();
    context.arc(x(i), middle - data[i * channels + c] * tall, 2.2, 0, 2 * Math.PI);
    context.fill();
  }
}
