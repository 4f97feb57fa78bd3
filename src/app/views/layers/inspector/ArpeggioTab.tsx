import { useRef, useState } from 'react';
import {
  ARPEGGIO_ORDER_WORDS,
  ARPEGGIO_ORDERS,
  ARPEGGIO_PRESETS,
  MOST_PATTERN,
  type ArpeggioOrder,
  type ArpeggioStep,
} from '../../../../core/music/arpeggios';
import { changePath, setPatternLength, setStep, putArpeggio as withArpeggio } from '../../../../core/rig/edits/paths';
import type { Layer, NotePath, Patch } from '../../../../core/rig/schema';
import { ActMenu } from '../../../parts/ActMenu';
import { NumberField } from '../../../parts/NumberField';
import { Part, Row } from '../../../parts/Part';
import { useTick } from '../../../parts/useTick';
import { exportWritten, keepWritten } from '../../../jobs/writingDown';
import { session } from '../../../sound/session';
import { rigSlice } from '../../../document/rigSlice';
import { editPatch, useAppDispatch } from '../../../document/store';
import type { StripOf } from './strips';
import { Switch } from './NotesTab';

/** The arpeggio of a layer: its order and times, and its pattern as a row of bars that light as they play. */
export function ArpeggioTab({
  patch,
  layer,
  colour,
  strip,
}: {
  patch: Patch;
  layer: Layer;
  colour: string;
  strip: StripOf;
}) {
  const dispatch = useAppDispatch();
  const { arpeggio } = layer.path;
  const change = (edit: (old: NotePath['arpeggio']) => NotePath['arpeggio']) =>
    dispatch(
      editPatch(patch.id, (old) => changePath(old, layer.id, (path) => ({ ...path, arpeggio: edit(path.arpeggio) }))),
    );
  return (
    <>
      <Part
        title="Arpeggio"
        action={<Switch on={arpeggio.on} label="Arpeggio" onChange={(on) => change((old) => ({ ...old, on }))} />}
      >
        <ActMenu
          label="try one of ours …"
          title="Arpeggios to try by ear: hold a chord, or the hold of the keyboard, and choose"
          className="justify-between"
          items={ARPEGGIO_PRESETS.map(({ name }) => [name, name] as const)}
          onChoose={(name) =>
            dispatch(
              editPatch(patch.id, (old) =>
                withArpeggio(
                  old,
                  layer.id,
                  ARPEGGIO_PRESETS.find((each) => each.name === name)!,
                ),
              ),
            )
          }
        />
        <Row label="order">
          <select
            className="field min-w-0 flex-1"
            aria-label="Order"
            value={arpeggio.order}
            onChange={(event) => change((old) => ({ ...old, order: event.target.value as ArpeggioOrder }))}
          >
            {ARPEGGIO_ORDERS.map((order) => (
              <option key={order} value={order}>
                {ARPEGGIO_ORDER_WORDS[order]}
              </option>
            ))}
          </select>
        </Row>
        {strip('arpRate', 'step')}
        {strip('arpGate', 'gate')}
        {strip('arpSwing', 'swing')}
        {strip('arpOctaves', 'octaves')}
        <Row label="begins">
          <select
            className="field min-w-0 flex-1"
            aria-label="Begins"
            value={arpeggio.start}
            onChange={(event) => change((old) => ({ ...old, start: event.target.value as 'key' | 'beat' }))}
          >
            <option value="key">with the first key</option>
            <option value="beat">on the beat</option>
          </select>
        </Row>
        <Row label="hold: goes on when keys are up">
          <Switch on={arpeggio.hold} label="Hold" onChange={(hold) => change((old) => ({ ...old, hold }))} />
        </Row>
      </Part>
      <button
        className="button self-start px-2! py-0! text-[12px]"
        disabled={!arpeggio.on}
        title="Plays the take through the arpeggio and writes down what it makes, as a MIDI file"
        onClick={() => void exportWritten(patch, layer.id)}
      >
        write it down as a MIDI file
      </button>
      <button
        className="button self-start px-2! py-0! text-[12px]"
        disabled={!arpeggio.on}
        title="Plays the take through the arpeggio, and keeps what it makes as a take of this patch"
        onClick={() => void keepWritten(patch, layer.id)}
      >
        write it down as a take
      </button>
      <Part
        title="Pattern"
        action={
          <div className="w-24">
            <NumberField
              label="steps"
              value={arpeggio.pattern.length}
              low={1}
              high={MOST_PATTERN}
              onChange={(length) => dispatch(editPatch(patch.id, (old) => setPatternLength(old, layer.id, length)))}
            />
          </div>
        }
      >
        <Bars patch={patch} layer={layer} colour={colour} />
      </Part>
    </>
  );
}

const HEIGHT = 96,
  MOST = 1.5;
let gestures = 0;

/** The pattern as bars: drag one for how hard it is struck; below, what the chosen step is. */
function Bars({ patch, layer, colour }: { patch: Patch; layer: Layer; colour: string }) {
  const dispatch = useAppDispatch();
  const { pattern, on } = layer.path.arpeggio;
  useTick(on, 20);
  const now = session.meters.stepOf(layer.id);
  const [wanted, choose] = useState(0);
  const chosen = Math.min(wanted, pattern.length - 1);
  const drag = useRef('');
  const step = pattern[chosen];
  const put = (at: number, change: Partial<ArpeggioStep>, gesture?: string) =>
    dispatch(editPatch(patch.id, (old) => setStep(old, layer.id, at, change), gesture));
  return (
    <>
      <div
        role="group"
        aria-label="Steps"
        className="flex touch-none gap-[2px] rounded-md border border-edge bg-sheet p-1"
        style={{ height: HEIGHT }}
      >
        {pattern.map(({ kind, velocity, octave, chance }, i) => (
          <div
            key={i}
            role="slider"
            tabIndex={i === chosen ? 0 : -1}
            aria-label={`Step ${i + 1}: ${WORDS[kind]}`}
            aria-valuemin={0}
            aria-valuemax={150}
            aria-valuenow={Math.round(velocity * 100)}
            aria-valuetext={`${WORDS[kind]}, ${Math.round(velocity * 100)} %${octave === 0 ? '' : `, ${octave} octaves`}`}
            className={`relative min-w-0 flex-1 cursor-ns-resize rounded-[2px] ${i === chosen ? 'outline-1 outline-ink' : ''}`}
            style={{
              background:
                i === now
                  ? `color-mix(in srgb, ${colour} 30%, transparent)`
                  : i % 4 === 0
                    ? 'color-mix(in srgb, var(--line) 55%, transparent)'
                    : 'color-mix(in srgb, var(--line) 30%, transparent)',
            }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              choose(i);
              drag.current = `step ${++gestures}`;
            }}
            onPointerMove={(event) => {
              if (drag.current === '') return;
              const box = event.currentTarget.getBoundingClientRect();
              put(
                i,
                {
                  velocity:
                    Math.round(Math.min(MOST, Math.max(0, ((box.bottom - event.clientY) / box.height) * MOST)) * 20) /
                    20,
                },
                drag.current,
              );
            }}
            onPointerUp={() => {
              drag.current = '';
              dispatch(rigSlice.actions.gestureEnded());
            }}
            onDoubleClick={() => put(i, { kind: NEXT[kind] })}
            onKeyDown={(event) => {
              const by = { ArrowUp: 0.05, ArrowDown: -0.05 }[event.key];
              if (by !== undefined)
                put(i, { velocity: Math.round(Math.min(MOST, Math.max(0, velocity + by)) * 20) / 20 });
              else if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
                const to = Math.min(pattern.length - 1, Math.max(0, i + (event.key === 'ArrowRight' ? 1 : -1)));
                choose(to);
                (event.currentTarget.parentElement!.children[to] as HTMLElement).focus();
              } else if (event.key === 'Enter') put(i, { kind: NEXT[kind] });
              else return;
              event.preventDefault();
              event.stopPropagation();
            }}
          >
            {kind === 'note' && (
              <div
                className="absolute inset-x-0 bottom-0 rounded-[2px]"
                style={{ height: `${(velocity / MOST) * 100}%`, background: colour, opacity: 0.35 + 0.65 * chance }}
              />
            )}
            {kind === 'tie' && (
              <div className="absolute inset-x-0 bottom-0 h-[5px]" style={{ background: colour, opacity: 0.55 }} />
            )}
            {octave !== 0 && kind === 'note' && (
              <span className="number absolute inset-x-0 top-0 text-center text-[9px]">
                {octave > 0 ? `+${octave}` : `−${-octave}`}
              </span>
            )}
          </div>
        ))}
      </div>
      <div className="flex items-center gap-1.5">
        <span className="number w-6 text-[12px] text-faint">{chosen + 1}</span>
        {(['note', 'tie', 'rest'] as const).map((kind) => (
          <button
            key={kind}
            className="button px-1.5! py-0! text-[11.5px]"
            aria-pressed={step.kind === kind}
            onClick={() => put(chosen, { kind })}
          >
            {WORDS[kind]}
          </button>
        ))}
      </div>
      <div className="grid grid-cols-2 gap-1.5">
        <NumberField
          label="velocity"
          unit=" %"
          value={Math.round(step.velocity * 100)}
          low={0}
          high={150}
          onChange={(value) => put(chosen, { velocity: value / 100 })}
        />
        <NumberField
          label="octave"
          value={step.octave}
          low={-2}
          high={2}
          onChange={(octave) => put(chosen, { octave })}
        />
        <NumberField
          label="chance"
          unit=" %"
          value={Math.round(step.chance * 100)}
          low={0}
          high={100}
          onChange={(value) => put(chosen, { chance: value / 100 })}
        />
      </div>
    </>
  );
}

const WORDS: Record<ArpeggioStep['kind'], string> = { note: 'note', tie: 'goes on', rest: 'rest' };
const NEXT: Record<ArpeggioStep['kind'], ArpeggioStep['kind']> = { note: 'tie', tie: 'rest', rest: 'note' };
