import { NumberBox } from '../../parts/NumberBox';
import { LFO_SHAPES, moverKind, MOST_POINTS } from '../../../core/movers';
import { deleteMover, setPoints, setValues, updateMover } from '../../../core/rig/edits/moves';
import { sourcesIn } from '../../../core/rig/moves';
import type { Mover, Patch } from '../../../core/rig/schema';
import { TargetStrip } from '../../parts/TargetStrip';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, told, useAppDispatch } from '../../document/store';
import { Moves } from './Moves';
import { CurveEditor } from './CurveEditor';
import { colourOfMover, MoverShape } from './MoverRow';
import { Named, Part, Row } from '../../parts/Part';

const BEGINS: Record<Mover['begins'], string> = {
  strike: 'at each strike',
  phrase: 'at the first of a phrase',
  beat: 'with the beat',
  never: 'never: it runs on',
};
const CLOCKS: Record<Mover['clock'], string> = {
  hz: 'a rate in Hz',
  seconds: 'a length in seconds',
  note: 'a note value',
};

const isTimed = ({ kind }: Mover): boolean => kind !== 'envelope' && kind !== 'follower';

/** Parameters that say nothing as the mover stands: of rate, note value and length only what its clock asks for. */
function hiddenOf(mover: Mover): ReadonlySet<string> {
  const asked = { hz: 'rate', note: 'length', seconds: mover.kind === 'lfo' ? 'period' : 'lasts' };
  const hidden = new Set(isTimed(mover) ? Object.values(asked).filter((id) => id !== asked[mover.clock]) : []);
  if (mover.kind === 'lfo' && mover.shape !== 'square') hidden.add('width');
  return hidden;
}

/** A mover in numbers: its shape, its time, its parameters, what it moves. */
export function MoverPanel({ patch, mover }: { patch: Patch; mover: Mover }) {
  const dispatch = useAppDispatch();
  const { kind, number } = mover;
  const source = `${kind}.${number}`;
  const { parameters, label, help } = moverKind(kind);
  const change = (edit: (old: Patch) => Patch, gesture?: string) => dispatch(editPatch(patch.id, edit, gesture));
  const set = (to: Partial<Omit<Mover, 'kind' | 'number'>>) => change((old) => updateMover(old, kind, number, to));
  const timed = isTimed(mover);
  const hidden = hiddenOf(mover);
  const end = () => dispatch(rigSlice.actions.gestureEnded());
  return (
    <>
      <Named name={mover.name} kind={`${label} ${number}`} onName={(name) => set({ name })} />
      <p className="text-[12px] text-faint">{help}</p>
      {kind === 'contour' ? (
        <CurveEditor
          label="Contour"
          points={mover.points}
          low={-1}
          most={MOST_POINTS}
          bends
          colour={colourOfMover(patch, mover)}
          onChange={(points, gesture) => change((old) => setPoints(old, number, points), gesture)}
          onEnd={end}
        />
      ) : kind === 'steps' ? (
        <StepsEditor
          mover={mover}
          colour={colourOfMover(patch, mover)}
          onChange={(values, gesture) => change((old) => setValues(old, number, values), gesture)}
          onEnd={end}
        />
      ) : (
        <MoverShape patch={patch} mover={mover} height={70} />
      )}
      {kind === 'contour' && (
        <p className="text-[11.5px] text-faint">
          Click for a point, drag it; drag a line to bend it; Delete takes a point away.
        </p>
      )}
      <div className="flex flex-col gap-1.5">
        <div className="flex gap-1.5">
          <button className="button px-2! py-0.5!" aria-pressed={mover.on} onClick={() => set({ on: !mover.on })}>
            {mover.on ? 'on' : 'off'}
          </button>
          {kind !== 'follower' && (
            <select
              className="field min-w-0 flex-1"
              aria-label="Reach"
              value={mover.reach}
              onChange={(event) => set({ reach: event.target.value as Mover['reach'] })}
            >
              <option value="note">one for each note</option>
              <option value="patch">one for the patch</option>
            </select>
          )}
        </div>
        {kind === 'lfo' && (
          <Row label="shape">
            <select
              className="field"
              value={mover.shape}
              onChange={(event) => set({ shape: event.target.value as Mover['shape'] })}
            >
              {LFO_SHAPES.map((shape) => (
                <option key={shape}>{shape}</option>
              ))}
            </select>
          </Row>
        )}
        {timed && (
          <Row label="in time by">
            <select
              className="field"
              value={mover.clock}
              onChange={(event) => set({ clock: event.target.value as Mover['clock'] })}
            >
              {(Object.keys(CLOCKS) as Mover['clock'][]).map((clock) => (
                <option key={clock} value={clock}>
                  {CLOCKS[clock]}
                </option>
              ))}
            </select>
          </Row>
        )}
        {mover.reach === 'patch' && kind !== 'follower' && (
          <Row label="begins">
            <select
              className="field"
              value={mover.begins}
              onChange={(event) => set({ begins: event.target.value as Mover['begins'] })}
            >
              {(Object.keys(BEGINS) as Mover['begins'][]).map((begins) => (
                <option key={begins} value={begins}>
                  {BEGINS[begins]}
                </option>
              ))}
            </select>
          </Row>
        )}
        {mover.reach === 'note' && timed && (
          <Row label="begins">
            <select
              className="field"
              value={mover.begins === 'beat' ? 'beat' : 'strike'}
              onChange={(event) => set({ begins: event.target.value as Mover['begins'] })}
            >
              <option value="strike">with its note</option>
              <option value="beat">with the beat</option>
            </select>
          </Row>
        )}
        {kind === 'contour' && (
          <Row label="goes">
            <select
              className="field"
              value={mover.loop ? 'loop' : 'once'}
              onChange={(event) => set({ loop: event.target.value === 'loop' })}
            >
              <option value="once">once</option>
              <option value="loop">round and round</option>
            </select>
          </Row>
        )}
        {kind === 'hold' && (
          <Row label="takes from">
            <select
              className="field min-w-0"
              value={mover.follows}
              onChange={(event) => set({ follows: event.target.value })}
            >
              <option value="random">chance</option>
              {sourcesIn(patch)
                .filter(({ id }) => id !== source)
                .map(({ id, label: name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
            </select>
          </Row>
        )}
        {kind === 'follower' && (
          <Row label="listens to">
            <select
              className="field min-w-0"
              value={mover.follows}
              onChange={(event) => set({ follows: event.target.value })}
            >
              <option value="main">the whole</option>
              {patch.layers.map((layer) => (
                <option key={layer.id} value={layer.id}>
                  {layer.name}
                </option>
              ))}
            </select>
          </Row>
        )}
      </div>
      <Part title="Its values">
        {Object.keys(parameters)
          .filter((id) => !hidden.has(id))
          .map((id) => (
            <TargetStrip key={id} patch={patch} target={`${source}.${id}`} colour={colourOfMover(patch, mover)} />
          ))}
      </Part>
      <Moves patch={patch} source={source} />
      <button
        className="button self-start"
        onClick={() => {
          change((old) => deleteMover(old, kind, number));
          dispatch(told(`The mover “${mover.name}” is gone, with what it moved.`));
        }}
      >
        Delete this mover
      </button>
    </>
  );
}

let gestures = 0;
/** Steps as bars that are drawn over with the pointer. */
function StepsEditor({
  mover,
  colour,
  onChange,
  onEnd,
}: {
  mover: Mover;
  colour: string;
  onChange: (values: number[], gesture?: string) => void;
  onEnd: () => void;
}) {
  const { values } = mover;
  const set = (event: React.PointerEvent, gesture?: string) => {
    const { left, top, width, height } = event.currentTarget.getBoundingClientRect();
    const at = Math.min(values.length - 1, Math.max(0, Math.floor(((event.clientX - left) / width) * values.length)));
    const value = Math.round((1 - (2 * (event.clientY - top)) / height) * 20) / 20;
    onChange(
      values.map((old, i) => (i === at ? Math.min(1, Math.max(-1, value)) : old)),
      gesture,
    );
  };
  const count = (n: number) =>
    onChange(
      Array.from({ length: Math.min(32, Math.max(1, n)) }, (_, i) => values[i] ?? values[i % values.length] ?? 0),
    );
  return (
    <>
      <div
        role="group"
        aria-label="Steps"
        className="relative flex h-[90px] touch-none gap-px rounded-md border border-edge bg-sheet p-px"
        data-gesture=""
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          event.currentTarget.dataset.gesture = `steps ${++gestures}`;
          set(event, event.currentTarget.dataset.gesture);
        }}
        onPointerMove={(event) => {
          if (event.currentTarget.hasPointerCapture(event.pointerId)) set(event, event.currentTarget.dataset.gesture);
        }}
        onPointerUp={onEnd}
      >
        {values.map((value, i) => (
          <div
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={`Step ${i + 1}`}
            aria-valuemin={-100}
            aria-valuemax={100}
            aria-valuenow={Math.round(value * 100)}
            className="relative min-w-0 flex-1"
            onKeyDown={(event) => {
              const by = { ArrowUp: 0.05, ArrowDown: -0.05 }[event.key];
              if (by === undefined) return;
              event.preventDefault();
              event.stopPropagation();
              onChange(values.map((old, n) => (n === i ? Math.min(1, Math.max(-1, old + by)) : old)));
            }}
          >
            <div
              className="absolute inset-x-0"
              style={{
                background: `color-mix(in srgb, ${colour} 55%, transparent)`,
                top: `${50 - Math.max(0, value) * 50}%`,
                height: `${Math.max(1.5, Math.abs(value) * 50)}%`,
              }}
            />
          </div>
        ))}
        <div className="pointer-events-none absolute inset-x-0 top-1/2 h-px bg-ink/40" />
      </div>
      <label className="flex items-center justify-between gap-2">
        steps
        <NumberBox value={values.length} low={1} high={32} className="w-16" onChange={count} />
      </label>
    </>
  );
}
