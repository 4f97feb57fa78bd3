import { useRef, useState, type ChangeEvent, type PointerEvent } from 'react';
import { setShape } from '../../../../core/rig/edits/kinds';
import { setParam } from '../../../../core/rig/edits/layers';
import type { Layer, Patch, Sound } from '../../../../core/rig/schema';
import { DRAWN, DRAWN_POINTS, drawnFrom, SHAPE_NAMES, shapeAt } from '../../../../core/sounds/grains/shapes';
import { rigSlice } from '../../../document/rigSlice';
import { soundLab } from '../../../document/soundLab';
import { editPatch, editSound, notice, useAppDispatch } from '../../../document/store';
import { bringInForExchange } from '../../../jobs/bringIn';
import { valueOf } from './soundLayer';

export interface Props {
  patch: Patch;
  sound: Sound;
  layer: Layer | null;
}

export const CARD = { width: 84, height: 46 };

/** The shapes that a grain may have, and the one that is drawn. */
export function Shapes({ patch, sound, layer }: Props) {
  const dispatch = useAppDispatch();
  const now = valueOf(layer, sound, 'grainShape');
  const [draws, setDraws] = useState(false);
  const choose = (shape: number) => {
    if (layer) dispatch(editPatch(patch.id, (old) => setParam(old, layer.id, 'grainShape', shape)));
    else dispatch(editSound(sound.id, (old) => ({ ...old, params: { ...old.params, grainShape: shape } })));
  };
  const path = (shape: number, width: number, height: number) =>
    Array.from(
      { length: 61 },
      (_, i) =>
        `${i === 0 ? 'M' : 'L'}${((width * i) / 60).toFixed(1)} ${(height - 3 - (height - 8) * shapeAt(shape, i / 60, sound.shape)).toFixed(1)}`,
    ).join('');
  const bring = async (event: ChangeEvent<HTMLInputElement>) => {
    const { files, problems } = await bringInForExchange(event);
    if (files.length === 0) {
      dispatch(notice('problem', problems.join('; ') || 'no recording in there'));
      return;
    }
    const audio = await soundLab.audio(files[0].sample.id);
    dispatch(editSound(sound.id, (old) => setShape(old, drawnFrom(audio.data, audio.channels))));
    choose(DRAWN);
  };
  return (
    <section aria-label="Shape of a grain" className="flex flex-col gap-1 border-t border-line p-2">
      <div className="flex items-center gap-2">
        <h3 className="heading">Shape of a grain</h3>
        <button
          className="button ml-auto px-2! py-0! text-[12px]"
          aria-pressed={draws}
          onClick={() => {
            setDraws(!draws);
            if (!draws) {
              if (sound.shape.length === 0)
                dispatch(
                  editSound(sound.id, (old) =>
                    setShape(
                      old,
                      Array.from({ length: DRAWN_POINTS }, (_, i) =>
                        shapeAt(now === DRAWN ? 2 : now, i / (DRAWN_POINTS - 1)),
                      ),
                    ),
                  ),
                );
              choose(DRAWN);
            }
          }}
        >
          Draw a shape …
        </button>
        <label className="button px-2! py-0! text-[12px]">
          Bring one in …
          <input
            type="file"
            accept=".wav,.wave,.aif,.aiff,.flac"
            className="sr-only"
            onChange={(event) => void bring(event)}
          />
        </label>
      </div>
      {draws ? (
        <DrawShape sound={sound} />
      ) : (
        <div role="radiogroup" aria-label="Shape of a grain" className="grid grid-cols-9 gap-1">
          {SHAPE_NAMES.map((name, shape) => (
            <button
              key={name}
              role="radio"
              aria-checked={now === shape}
              disabled={shape === DRAWN && sound.shape.length === 0}
              className={`rounded-md border p-0.5 text-[11px] ${now === shape ? 'border-[1.5px] border-ink bg-sheet' : 'border-line'} disabled:opacity-50`}
              onClick={() => choose(shape)}
            >
              <span dir="auto" className="block truncate">
                {name}
              </span>
              <svg viewBox={`0 0 ${CARD.width} ${CARD.height}`} className="w-full" aria-hidden>
                <path
                  d={`${path(shape, CARD.width, CARD.height)}L${CARD.width} ${CARD.height - 3}L0 ${CARD.height - 3}Z`}
                  fill={now === shape ? 'var(--clay)' : 'var(--slate)'}
                  fillOpacity={0.18}
                  stroke={now === shape ? 'var(--clay)' : 'var(--slate)'}
                  strokeWidth={1.4}
                />
              </svg>
            </button>
          ))}
        </div>
      )}
    </section>
  );
}

/** A shape is drawn with the pointer from left to right; arrow keys lift and lower the point that has the focus. */
function DrawShape({ sound }: { sound: Sound }) {
  const dispatch = useAppDispatch();
  const drag = useRef<{ gesture: string; at: number } | null>(null);
  const points = sound.shape.length > 1 ? sound.shape : Array.from({ length: DRAWN_POINTS }, () => 0);
  const put = (event: PointerEvent, element: Element) => {
    const rect = element.getBoundingClientRect();
    const i = Math.min(
      points.length - 1,
      Math.max(0, Math.round(((event.clientX - rect.left) / rect.width) * (points.length - 1))),
    );
    const height = Math.min(1, Math.max(0, 1 - (event.clientY - rect.top - 4) / (rect.height - 8)));
    const before = drag.current!.at < 0 ? i : drag.current!.at;
    drag.current!.at = i;
    dispatch(
      editSound(
        sound.id,
        (old) =>
          setShape(
            old,
            (old.shape.length > 1 ? old.shape : points).map((each, n) =>
              n >= Math.min(before, i) && n <= Math.max(before, i) ? height : each,
            ),
          ),
        drag.current!.gesture,
      ),
    );
  };
  return (
    <svg
      viewBox="0 0 640 76"
      preserveAspectRatio="none"
      className="h-[76px] w-full cursor-crosshair touch-none rounded-md border border-edge bg-sheet"
      role="img"
      aria-label="The shape that is drawn: draw it from left to right"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { gesture: `shape ${Date.now()}`, at: -1 };
        put(event, event.currentTarget);
      }}
      onPointerMove={(event) => {
        if (drag.current) put(event, event.currentTarget);
      }}
      onPointerUp={() => {
        drag.current = null;
        dispatch(rigSlice.actions.gestureEnded());
      }}
    >
      <path
        d={`M0 72${points.map((y, i) => `L${((640 * i) / (points.length - 1)).toFixed(1)} ${(72 - 68 * y).toFixed(1)}`).join('')}L640 72Z`}
        fill="var(--clay)"
        fillOpacity={0.18}
        stroke="var(--clay)"
        strokeWidth={1.6}
      />
    </svg>
  );
}
