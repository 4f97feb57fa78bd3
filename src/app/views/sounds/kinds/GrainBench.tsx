import { useEffect, useRef, useState } from 'react';
import { scaleLinear } from 'd3';
import { setParam } from '../../../../core/rig/edits/layers';
import type { LayerParameterId } from '../../../../core/rig/parameters';
import type { Layer, Sample, Sound, Zone } from '../../../../core/rig/schema';
import { shapeAt } from '../../../../core/sounds/grains/shapes';
import { GRAIN_NUMBERS } from '../../../../host/protocol';
import { nameOfKey } from '../../../../core/music/noteNames';
import { prepared, themeColour } from '../../../parts/canvas';
import { useFrames } from '../../../parts/useLive';
import { useSize } from '../../../parts/useSize';
import { session } from '../../../sound/session';
import { soundLab } from '../../../document/soundLab';
import { rigSlice } from '../../../document/rigSlice';
import { editPatch, editSound, useAppDispatch, useAppSelector } from '../../../document/store';
import type { Audio } from '../../../../core/dsp/sample';
import { valueNow, valueOf } from './soundLayer';
import { Shapes } from './GrainShapes';
import { type Props } from './GrainShapes';

const COLOURS = ['--clay', '--indigo', '--ochre', '--plum', '--moss', '--slate', '--rose', '--teal'];

/**
 * Grains on their recording: each one where it sounds, as its shape; dragging sets where they begin. Below, the shapes.
 */
export function GrainBench({ patch, sound, layer, zone, sample }: Props & { zone: Zone; sample: Sample }) {
  return (
    <div className="grid min-h-0 grid-rows-[minmax(0,1fr)_auto]">
      <GrainWave patch={patch} sound={sound} layer={layer} zone={zone} sample={sample} />
      <Shapes patch={patch} sound={sound} layer={layer} />
    </div>
  );
}

function GrainWave({ patch, sound, layer, zone, sample }: Props & { zone: Zone; sample: Sample }) {
  const dispatch = useAppDispatch();
  const [box, width, height] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const audio = useAudioOf(sample.id);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const drag = useRef<string | null>(null);
  const [count, setCount] = useState(0);
  const start = zone.start;
  const end = zone.end ?? sample.frames;
  const outline = useRef<{ of: Audio | null; width: number; heights: Float32Array }>({
    of: null,
    width: 0,
    heights: new Float32Array(0),
  });
  useFrames(() => {
    const context = prepared(canvas, width, height);
    if (!context) return;
    const grains = session.meters.grains();
    if (grains.count !== count) setCount(grains.count);
    const x = scaleLinear([0, 1], [14, width - 14]);
    const middle = height * 0.7;
    const tall = height * 0.2;
    context.clearRect(0, 0, width, height);
    // Seconds of the recording.
    const seconds = sample.frames / sample.rate;
    const step = [0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30].find((each) => seconds / each <= 9) ?? 60;
    context.font = '10.5px "Atkinson Hyperlegible Mono", monospace';
    context.lineWidth = 1;
    for (let t = 0; t <= seconds; t += step) {
      context.strokeStyle = themeColour('--line');
      context.beginPath();
      context.moveTo(x(t / seconds), 22);
      context.lineTo(x(t / seconds), height - 16);
      context.stroke();
      context.fillStyle = themeColour('--faint');
      context.fillText(`${Number(t.toFixed(2))} s`, x(t / seconds) + 3, height - 4);
    }
    if (audio) {
      const pixels = Math.max(1, Math.round(width - 28));
      if (outline.current.of !== audio || outline.current.width !== pixels)
        outline.current = { of: audio, width: pixels, heights: outlineOf(audio, pixels) };
      const { heights } = outline.current;
      const [from, to] = [start / sample.frames, end / sample.frames];
      context.fillStyle = themeColour('--teal');
      for (let i = 0; i < pixels; i++) {
        context.globalAlpha = i / pixels >= from && i / pixels < to ? 0.6 : 0.18;
        const h = Math.max(0.6, heights[i] * tall);
        context.fillRect(14 + i, middle - h, 1, 2 * h);
      }
      context.globalAlpha = 1;
    }
    // Where grains begin when they do not scatter, and how far they may.
    const span = (end - start) / sample.frames;
    const place = valueNow(patch, layer, sound, 'grainPosition') / 100;
    const scatter = valueNow(patch, layer, sound, 'grainPositionScatter') / 100;
    const at = start / sample.frames + place * span;
    context.fillStyle = themeColour('--ink');
    context.globalAlpha = 0.08;
    context.fillRect(x(at - scatter * span), 22, x(at + scatter * span) - x(at - scatter * span), height - 40);
    context.globalAlpha = 1;
    context.strokeStyle = themeColour('--ink');
    context.setLineDash([2, 3]);
    context.beginPath();
    context.moveTo(x(at), 22);
    context.lineTo(x(at), height - 16);
    context.stroke();
    context.setLineDash([]);
    drawGrains(context, grains, {
      x,
      height,
      middle,
      seconds,
      length: valueNow(patch, layer, sound, 'grainLength'),
      shape: valueOf(layer, sound, 'grainShape'),
      drawn: sound.shape,
      middleC,
    });
  });
  const put = (clientX: number, element: Element) => {
    const rect = element.getBoundingClientRect();
    const share = ((clientX - rect.left - 14) / (rect.width - 28)) * sample.frames;
    const percent = Math.round(Math.min(100, Math.max(0, (100 * (share - start)) / (end - start))) * 10) / 10;
    if (layer) dispatch(editPatch(patch.id, (old) => setParam(old, layer.id, 'grainPosition', percent), drag.current!));
    else
      dispatch(
        editSound(sound.id, (old) => ({ ...old, params: { ...old.params, grainPosition: percent } }), drag.current!),
      );
  };
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  return (
    <div
      ref={box}
      data-testid="grains"
      className="relative min-h-0 cursor-ew-resize touch-none overflow-hidden bg-sheet"
      role="img"
      aria-label={`Grains on ${sample.name}; where they begin is set with the strip “position”`}
      onPointerDown={(event) => {
        if (readOnly) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = `grains ${Date.now()}`;
        put(event.clientX, event.currentTarget);
      }}
      onPointerMove={(event) => {
        if (drag.current) put(event.clientX, event.currentTarget);
      }}
      onPointerUp={() => {
        drag.current = null;
        dispatch(rigSlice.actions.gestureEnded());
      }}
      onPointerCancel={() => {
        drag.current = null;
        dispatch(rigSlice.actions.gestureEnded());
      }}
    >
      <canvas ref={canvas} className="absolute inset-0" />
      <p className="pointer-events-none absolute top-1 left-3 text-[12px]">
        <span className="font-semibold">{sample.name}</span>{' '}
        <span className="number text-faint">{(sample.frames / sample.rate).toFixed(2)} s</span>
      </p>
      <p data-testid="grain-count" className="number pointer-events-none absolute top-1 right-3 text-[12px] text-faint">
        {count === 1 ? '1 grain' : `${count} grains`} now
      </p>
    </div>
  );
}

interface Look {
  x: (share: number) => number;
  height: number;
  middle: number;
  seconds: number;
  length: number;
  shape: number;
  drawn: readonly number[];
  middleC: 3 | 4 | 5;
}

/** Each grain as its shape over the place that it plays, those of one note in one colour and under its name. */
function drawGrains(
  context: CanvasRenderingContext2D,
  { count, numbers }: { count: number; numbers: Float32Array },
  { x, height, middle, seconds, length, shape, drawn, middleC }: Look,
): void {
  const notes = new Map<number, { colour: string; row: number; left: number; sum: number; n: number; key: number }>();
  const room = Math.max(30, middle - height * 0.22 - 44);
  for (let g = 0; g < count; g++) {
    const [voice, key, place, level] = numbers.subarray(g * GRAIN_NUMBERS, (g + 1) * GRAIN_NUMBERS);
    let note = notes.get(voice);
    if (!note)
      notes.set(voice, (note = { colour: COLOURS[notes.size % COLOURS.length], row: 0, left: 0, sum: 0, n: 0, key }));
    note.sum += place;
    note.n++;
    const row = note.row++ % 8;
    const base = 44 + room * ((row + 0.9) / 8.4);
    const tall = Math.max(3, (room / 5) * Math.min(1, 0.25 + level));
    const wide = Math.max(4, x(length / seconds) - x(0));
    context.fillStyle = context.strokeStyle = themeColour(note.colour);
    context.globalAlpha = 0.25 + 0.5 * Math.min(1, level * 1.4);
    context.beginPath();
    for (let i = 0; i <= 16; i++) {
      const px = x(place) - wide / 2 + (wide * i) / 16;
      const py = base - tall * shapeAt(shape, i / 16, drawn);
      if (i === 0) context.moveTo(px, base);
      context.lineTo(px, py);
    }
    context.lineTo(x(place) + wide / 2, base);
    context.closePath();
    context.fill();
    context.globalAlpha = 1;
  }
  context.font = '600 12px "Atkinson Hyperlegible Next", sans-serif';
  context.textAlign = 'center';
  for (const { colour, sum, n, key } of notes.values()) {
    context.fillStyle = themeColour(colour);
    context.fillText(nameOfKey(key, middleC), x(sum / n), 38);
    context.beginPath();
    context.arc(x(sum / n), middle, 4.5, 0, 2 * Math.PI);
    context.fill();
  }
  context.textAlign = 'start';
}

function outlineOf({ data, channels }: Audio, pixels: number): Float32Array {
  const frames = data.length / channels;
  const heights = new Float32Array(pixels);
  let most = 1e-6;
  for (let i = 0; i < pixels; i++) {
    const to = Math.floor(((i + 1) * frames) / pixels);
    for (let f = Math.floor((i * frames) / pixels); f < to; f += Math.max(1, Math.floor(frames / pixels / 200)))
      heights[i] = Math.max(heights[i], Math.abs(data[f * channels]));
    most = Math.max(most, heights[i]);
  }
  for (let i = 0; i < pixels; i++) heights[i] /= most;
  return heights;
}

function useAudioOf(sampleId: string): Audio | null {
  const [state, setState] = useState<{ id: string; audio: Audio | null }>({ id: '', audio: null });
  useEffect(() => {
    let live = true;
    soundLab.audio(sampleId).then(
      (audio) => {
        if (live) setState({ id: sampleId, audio });
      },
      () => undefined,
    );
    return () => {
      live = false;
    };
  }, [sampleId]);
  return state.id === sampleId ? state.audio : null;
}

export const GRAIN_PARTS: readonly (readonly [
  title: string,
  ids: readonly (readonly [id: LayerParameterId, label?: string])[],
])[] = [
  ['Where', [['grainPosition'], ['grainRate', 'moves by itself'], ['grainFreeze', 'freeze'], ['grainFollow', 'pitch']]],
  [
    'Each grain',
    [
      ['grainLength', 'length'],
      ['grainPitch', 'pitch'],
      ['grainPan', 'pan'],
      ['grainReversed', 'turned round'],
      ['grainShape', 'shape'],
    ],
  ],
  ['How many', [['grainBy', 'counted by'], ['grainDensity'], ['grainOverlap'], ['grainMost', 'at most']]],
  [
    'Scatter',
    [
      ['grainPositionScatter', 'position'],
      ['grainTimeScatter', 'time'],
      ['grainLengthScatter', 'length'],
      ['grainPitchScatter', 'pitch'],
      ['grainPanScatter', 'pan'],
      ['grainLevelScatter', 'level'],
    ],
  ],
];
export const isCounted = (layer: Layer | null, sound: Sound, id: LayerParameterId): boolean =>
  id === (valueOf(layer, sound, 'grainBy') === 1 ? 'grainOverlap' : 'grainDensity');
