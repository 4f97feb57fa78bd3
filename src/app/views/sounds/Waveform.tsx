import { ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type PointerEvent, type WheelEvent } from 'react';
import { loopHz, loopQuality, nearestZeroCrossing } from '../../../core/measure/loop';
import { nameOfKey } from '../../../core/music/noteNames';
import { keyOfFrequency } from '../../../core/music/pitch';
import { pointsInOrder, updateZones } from '../../../core/rig/edits/zones';
import type { Layer, Patch, Sample, Sound, Zone } from '../../../core/rig/schema';
import { movedValue } from '../../parts/moved';
import { useFrames } from '../../parts/useLive';
import { CutPanel, Freeze, useCuts } from './Living';
import { zoneField } from '../../../core/rig/zoneFields';
import { prepared, themeColour } from '../../parts/canvas';
import { useWidth } from '../../parts/keyScale';
import { TypedField } from '../../parts/TypedField';
import { LoopJoint, LoopOffers } from './LoopOffers';
import { rigSlice } from '../../document/rigSlice';
import { editSound, useAppDispatch, useAppSelector } from '../../document/store';
import { fieldText, parseField, type FrameUnit, type TextContext } from './zoneText';
import { drawWave, nearestMarker, type Marker, type Span } from './waveDrawing';
import { withLoop, useAudio } from './waveAudio';
import { write } from '../../parts/write';

const SNAP_FRAMES = 400;
/** Loops that repeat faster than this are heard as a tone of their own. */
const AUDIBLE_HZ = 16;

interface Props {
  patch: Patch;
  layer: Layer | null;
  sound: Sound;
  zone: Zone;
  place: number;
  sample: Sample;
  frameUnit: FrameUnit;
  onFrameUnit: (unit: FrameUnit) => void;
  colour: string;
}

/** Where the points of a zone are, in frames; undefined: it has no such point. */
const markersOf = ({ start, end, loop }: Zone, length: number): Record<Marker, number | undefined> => ({
  start,
  end: end ?? length,
  'loop.start': loop?.start,
  'loop.end': loop?.end,
  'loop.crossfade': loop ? loop.end - loop.crossfade : undefined,
});

/**
 * The sample of a zone down to its frames: where it starts, ends and loops, for this zone or for all that are chosen.
 */
export function Waveform({ patch, layer, sound, zone, place, sample, frameUnit, onFrameUnit, colour }: Props) {
  const dispatch = useAppDispatch();
  const selected = useAppSelector((state) => state.sounds.selected);
  const middleC = useAppSelector((state) => state.settings.middleC);
  const theme = useAppSelector((state) => state.settings.theme);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [box, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { audio, problem } = useAudio(sample.id);
  const [snap, setSnap] = useState(true);
  const [cursor, setCursor] = useState('grab');
  const [forAll, setForAll] = useState(false);
  const [span, setSpan] = useState<Span>({ from: 0, to: sample.frames });
  const drag = useRef<Marker | { from: number; span: Span } | null>(null);
  const height = box.current?.getBoundingClientRect().height ?? 0;
  useEffect(() => {
    setSpan({ from: 0, to: sample.frames });
  }, [sample.id, sample.frames, place]);
  const targets = useMemo(() => new Set(forAll ? selected : [place]), [forAll, selected, place]);
  const context: TextContext = { middleC, frameUnit, rate: sample.rate, frames: sample.frames };
  const cuts = useCuts(zone, sample, audio);
  const [pointed, setPointed] = useState<number | null>(null);
  const samples = useAppSelector((state) => state.rig.rig!.samples);
  const framesOf = (sampleId: string) => samples.find((other) => other.id === sampleId)?.frames ?? sample.frames;

  useEffect(() => {
    const drawing = prepared(canvas, width, height);
    if (drawing)
      drawWave(drawing, audio, zone, span, width, height, {
        colour: themeColour(`--${colour}`),
        ink: themeColour('--ink'),
        sheet: themeColour('--sheet'),
        line: themeColour('--line'),
        faint: themeColour('--faint'),
        loop: themeColour('--clay'),
      });
  }, [audio, zone, span, width, height, colour, theme]);

  const change = (edited: (old: Zone) => Zone, gesture?: string) =>
    dispatch(editSound(sound.id, (old) => updateZones(old, targets, edited), gesture));
  const put = (marker: Marker, frame: number | undefined, gesture?: string) => {
    let at = frame === undefined ? undefined : Math.max(0, Math.min(sample.frames, Math.round(frame)));
    if (at !== undefined && snap && audio && marker !== 'loop.crossfade')
      at = nearestZeroCrossing(
        audio,
        at,
        Math.min(SNAP_FRAMES, Math.ceil(((span.to - span.from) / Math.max(1, width)) * 6)),
      );
    const loops = marker.startsWith('loop.');
    change(
      (old) =>
        pointsInOrder(
          zoneField(marker).set(loops && !old.loop ? withLoop(old, framesOf(old.sampleId)) : old, at),
          marker,
          framesOf(old.sampleId),
        ),
      gesture,
    );
  };
  const frameAt = (x: number) => span.from + (x / Math.max(1, width)) * (span.to - span.from);
  const xOf = (frame: number) => ((frame - span.from) / (span.to - span.from)) * width;
  const frames = markersOf(zone, sample.frames);

  /** The point that a press would take. */
  const nearest = (event: PointerEvent<HTMLDivElement>): Marker | undefined => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - left;
    const low = event.clientY - top > height / 2;
    return nearestMarker(frames, xOf, x, low);
  };
  const press = (event: PointerEvent<HTMLDivElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = nearest(event) ?? { from: event.clientX - event.currentTarget.getBoundingClientRect().left, span };
    if (typeof drag.current !== 'string') setCursor('grabbing');
  };
  const move = (event: PointerEvent<HTMLDivElement>) => {
    const now = drag.current;
    if (!now) return setCursor(nearest(event) ? 'ew-resize' : 'grab');
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    if (typeof now !== 'string') {
      const by = ((now.from - x) / Math.max(1, width)) * (now.span.to - now.span.from);
      setSpan(held(now.span.from + by, now.span.to - now.span.from, sample.frames));
    } else if (now === 'loop.crossfade') put(now, Math.max(0, (zone.loop?.end ?? 0) - frameAt(x)), 'marker');
    else put(now, frameAt(x), 'marker');
  };
  // Where the loop is now that a macro, or what else moves it, has taken it.
  const live = useRef<SVGRectElement>(null);
  useFrames(() => {
    const element = live.current;
    if (!element || !zone.loop || !layer) return;
    const shift = movedValue(patch, `layer.${layer.id}.loopPosition`);
    const stretch = (movedValue(patch, `layer.${layer.id}.loopLength`) ?? layer.params.loopLength ?? 100) / 100;
    const away = ((shift ?? layer.params.loopPosition ?? 0) / 100) * sample.frames;
    const length = Math.min(sample.frames, (zone.loop.end - zone.loop.start) * stretch);
    const from = Math.min(sample.frames - length, Math.max(0, zone.loop.start + away));
    write(element, 'visibility', away === 0 && stretch === 1 ? 'hidden' : 'visible');
    write(element, 'x', String(xOf(from)));
    write(element, 'width', String(Math.max(2, xOf(from + length) - xOf(from))));
  });
  const lift = () => {
    if (typeof drag.current === 'string') dispatch(rigSlice.actions.gestureEnded());
    drag.current = null;
  };
  /** A click that moves nothing marks a moment: for what is frozen there, or cut by hand. */
  const point = (event: PointerEvent<HTMLDivElement>) => {
    const { current } = drag;
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    if (current === null || typeof current === 'string' || Math.abs(current.from - x) > 3) return;
    const frame = Math.round(Math.min(sample.frames, Math.max(0, frameAt(x))));
    setPointed(frame);
    if (cuts.how === 'hand') cuts.toggle(frame);
  };
  const zoom = (factor: number, at = 0.5) => {
    const length = Math.max(
      Math.min(width / 4, sample.frames),
      Math.min(sample.frames, (span.to - span.from) * factor),
    );
    const center = span.from + (span.to - span.from) * at;
    setSpan(held(center - length * at, length, sample.frames));
  };
  const wheel = (event: WheelEvent<HTMLDivElement>) => {
    const at = (event.clientX - event.currentTarget.getBoundingClientRect().left) / Math.max(1, width);
    if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY))
      setSpan(
        held(
          span.from + ((event.deltaX || event.deltaY) / 600) * (span.to - span.from),
          span.to - span.from,
          sample.frames,
        ),
      );
    else zoom(event.deltaY > 0 ? 1.25 : 0.8, at);
  };
  const quality =
    audio && zone.loop && zone.loop.end <= sample.frames ? loopQuality(audio, zone.loop.start, zone.loop.end) : null;
  const hz = zone.loop ? loopHz(sample.rate, zone.loop.start, zone.loop.end) : 0;
  const typed = (marker: Marker) => {
    const field = zoneField(marker);
    return (
      <TypedField
        key={marker}
        label={field.label}
        text={fieldText(field, field.get(zone), context)}
        step={(by) => put(marker, (field.get(zone) ?? (marker === 'end' ? sample.frames : 0)) + by)}
        commit={(text) => {
          const read = parseField(field, text, context, 'set');
          if (Number.isNaN(read)) return `“${text}” is no number of ${frameUnit}`;
          if (read !== undefined && read > sample.frames)
            return `the sample ends at ${fieldText(field, sample.frames, context)}`;
          const loops = marker.startsWith('loop.');
          // A percentage is one of each zone's own sample.
          change((old) => {
            const length = framesOf(old.sampleId);
            const frame =
              read === undefined || frameUnit !== 'percent' ? read : Math.round((read / sample.frames) * length);
            return pointsInOrder(field.set(loops && !old.loop ? withLoop(old, length) : old, frame), marker, length);
          });
          return undefined;
        }}
      />
    );
  };

  return (
    <section aria-label="Waveform" className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_232px]">
      <div className="flex min-h-0 min-w-0 flex-col">
        <div className="flex h-8 items-center gap-2 px-2 text-[12px]">
          <span dir="auto" className="min-w-0 truncate font-semibold" title={sample.name}>
            {sample.name}
          </span>
          <span className="number whitespace-nowrap text-faint">
            {sample.channels === 2 ? 'stereo' : 'mono'}, {(sample.rate / 1000).toFixed(1)} kHz,{' '}
            {(sample.frames / sample.rate).toFixed(2)} s
          </span>
          <span className="ml-auto flex items-center gap-1">
            <button className="button-bare" aria-label="Zoom out" onClick={() => zoom(2)}>
              <ZoomOut size={15} />
            </button>
            <button className="button-bare" aria-label="Zoom in" onClick={() => zoom(0.5)}>
              <ZoomIn size={15} />
            </button>
            <button className="button px-2! py-0!" onClick={() => setSpan({ from: 0, to: sample.frames })}>
              whole
            </button>
            <button
              className="button px-2! py-0!"
              disabled={!zone.loop}
              onClick={() => {
                if (zone.loop) setSpan(held(zone.loop.end - 60, 120, sample.frames));
              }}
            >
              joint
            </button>
          </span>
        </div>
        <div
          ref={box}
          role="img"
          aria-label={`Waveform of ${sample.name}; its points are typed at the right`}
          data-testid="waveform"
          className="relative min-h-0 flex-1 touch-none overflow-hidden"
          style={{ cursor }}
          onPointerDown={press}
          onPointerMove={move}
          onPointerUp={(event) => {
            point(event);
            lift();
          }}
          onPointerCancel={lift}
          onWheel={wheel}
        >
          <canvas ref={canvas} className="absolute inset-0" />
          <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden>
            {zone.loop && layer && (
              <rect ref={live} y={0} height={height} fill="var(--indigo)" fillOpacity={0.3} stroke="var(--indigo)" />
            )}
            {pointed !== null && (
              <line
                x1={xOf(pointed)}
                x2={xOf(pointed)}
                y1={0}
                y2={height}
                stroke="var(--indigo)"
                strokeDasharray="2 3"
              />
            )}
            {cuts.pieces.map(({ start, end }, i) => (
              <g key={start}>
                <rect
                  x={xOf(start)}
                  width={Math.max(1, xOf(end) - xOf(start))}
                  y={0}
                  height={height}
                  fill={i % 2 ? 'var(--plum)' : 'var(--moss)'}
                  fillOpacity={0.14}
                />
                <line x1={xOf(start)} x2={xOf(start)} y1={0} y2={height} stroke="var(--plum)" />
                <text x={xOf(start) + 3} y={height / 2} fontSize={10} fill="var(--plum)">
                  {i + 1}
                </text>
              </g>
            ))}
          </svg>
          {quality && (
            <div className="pointer-events-none absolute top-1 right-12 rounded bg-sheet/85 px-1.5 text-right text-[12px] text-faint">
              <LoopJoint quality={quality} />
              {hz >= AUDIBLE_HZ && (
                <p data-testid="loop-pitch" className="text-ink">
                  heard as a tone of {hz.toFixed(1)} Hz ({nearKey(hz, middleC)})
                </p>
              )}
            </div>
          )}
          {!audio && <p className="absolute inset-0 grid place-items-center text-faint">{problem ?? 'reading …'}</p>}
        </div>
      </div>
      <fieldset
        disabled={readOnly}
        tabIndex={0}
        aria-label="Points of the sample"
        className="flex min-h-0 flex-col gap-1.5 overflow-y-auto border-l border-line p-2 text-[12px] [scrollbar-width:thin]"
      >
        <div className="flex items-center gap-2">
          <select
            className="field min-w-0 flex-1"
            aria-label="Frames are told as"
            value={frameUnit}
            onChange={(event) => onFrameUnit(event.target.value as FrameUnit)}
          >
            <option value="frames">frames</option>
            <option value="seconds">seconds</option>
            <option value="percent">percent</option>
          </select>
          <label
            className="flex items-center gap-1 whitespace-nowrap"
            title="Dragged points go to the nearest zero crossing"
          >
            <input type="checkbox" checked={snap} onChange={(event) => setSnap(event.target.checked)} /> at zeros
          </label>
        </div>
        {selected.length > 1 && (
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={forAll} onChange={(event) => setForAll(event.target.checked)} /> for all{' '}
            {selected.length} chosen zones
          </label>
        )}
        <div className="grid grid-cols-2 gap-1.5">{(['start', 'end'] as const).map(typed)}</div>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={zone.reverse}
            onChange={(event) => {
              const reverse = event.target.checked;
              change((old) => ({ ...old, reverse }));
            }}
          />{' '}
          played backward, from its end
        </label>
        <div className="flex gap-1.5">
          <select
            className="field min-w-0 flex-1"
            aria-label="Loop"
            value={zone.loop?.until ?? 'none'}
            onChange={(event) => {
              const until = event.target.value;
              change((old) => ({
                ...old,
                loop:
                  until === 'none'
                    ? null
                    : {
                        ...(old.loop ?? withLoop(old, framesOf(old.sampleId)).loop!),
                        until: until as 'end' | 'release',
                      },
              }));
            }}
          >
            <option value="none">no loop</option>
            <option value="end">loops to the end of the note</option>
            <option value="release">loops while held</option>
          </select>
        </div>
        {zone.loop && (
          <div className="flex flex-col gap-1.5">
            {(['loop.start', 'loop.end', 'loop.crossfade'] as const).map(typed)}
          </div>
        )}
        <LoopOffers
          sound={sound}
          zone={zone}
          sample={sample}
          targets={targets}
          quality={quality}
          ready={audio !== undefined && audio !== null}
          near={zone.loop ?? withLoop(zone, sample.frames).loop!}
          change={change}
        />
        <Freeze patch={patch} layer={layer} sound={sound} zone={zone} place={place} sample={sample} at={pointed} />
        <CutPanel sound={sound} zone={zone} place={place} sample={sample} cuts={cuts} />
        {zone.playback === 'full-length' && zone.loop && (
          <p className="text-alarm">A full-length zone does not loop.</p>
        )}
      </fieldset>
    </section>
  );
}

function nearKey(hz: number, middleC: 3 | 4 | 5): string {
  const key = keyOfFrequency(hz);
  const cents = Math.round((key - Math.round(key)) * 100);
  return `${nameOfKey(Math.round(key), middleC)}${cents === 0 ? '' : ` ${cents > 0 ? '+' : '−'}${Math.abs(cents)} ct`}`;
}

const held = (from: number, length: number, frames: number): Span => {
  const span = Math.min(length, frames);
  const start = Math.max(0, Math.min(frames - span, from));
  return { from: start, to: start + span };
};
