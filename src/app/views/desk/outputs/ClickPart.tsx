import { setClick } from '../../../../core/rig/edits/pairs';
import type { Click, Rig } from '../../../../core/rig/schema';
import type { Parameter } from '../../../../core/rig/parameters';
import { rigSlice } from '../../../document/rigSlice';
import { edit, useAppDispatch } from '../../../document/store';
import { NumberField } from '../../../parts/NumberField';
import { Strip } from '../../../parts/Strip';
import { useStore } from '../../../parts/useLive';
import { session } from '../../../sound/session';
import { SUBDIVISIONS } from '../../../../core/rig/limits';

const LEVEL: Parameter = {
  id: 'level',
  label: 'level',
  unit: 'dB',
  low: -60,
  high: 6,
  default: -12,
  law: 'dB',
  reach: 'patch',
  sides: 1,
  help: 'How loud the click is; the lowest value is silence.',
};
const PARTS = { 1: 'quarters', 2: 'eighths', 3: 'triplets', 4: 'sixteenths' } as const;

/** The click: where it goes, how it sounds. It goes nowhere before a pair is chosen for it. */
export function ClickPart({ rig }: { rig: Rig }) {
  const dispatch = useAppDispatch();
  const on = useStore(session, (now) => now.pairs.clicks);
  const isLost = useStore(session, (now) => now.pairs.isClickLost);
  const { click, pairs } = rig;
  const set = (change: Partial<Click>, gesture?: string) => dispatch(edit((old) => setClick(old, change), gesture));
  return (
    <section aria-label="Click" className="border-t border-line pt-2">
      <h3 className="heading mb-1">Click</h3>
      <div className="flex flex-wrap items-center gap-1.5">
        <button
          className="button"
          aria-pressed={on}
          disabled={click.pair === null}
          title={click.pair === null ? 'Choose first where it is to go' : 'By the tempo of the patch'}
          onClick={() => {
            void session.audio.start();
            session.pairs.setClicks(!on);
          }}
        >
          click
        </button>
        <select
          className="field min-w-0 flex-1"
          aria-label="The click goes to"
          value={click.pair ?? ''}
          onChange={(event) => set({ pair: event.target.value || null })}
        >
          <option value="">nowhere: choose a pair</option>
          {pairs.map(({ id, name }, n) => (
            <option key={id} value={id}>
              {name}
              {n === 0 ? ' (where the audience hears it)' : ''}
            </option>
          ))}
        </select>
      </div>
      {isLost && (
        <p role="status" className="mt-1 text-[12.5px] text-alarm">
          It is silent: this device has no channels for where it goes.
        </p>
      )}
      <div className="mt-1.5 grid grid-cols-[1fr_1fr_1fr] gap-1.5">
        <NumberField
          label="beats of a bar"
          value={click.beats}
          low={1}
          high={16}
          onChange={(beats) => set({ beats })}
        />
        <select
          className="field"
          aria-label="Clicks in a beat"
          value={click.subdivision}
          onChange={(event) => set({ subdivision: Number(event.target.value) })}
        >
          {SUBDIVISIONS.map((n) => (
            <option key={n} value={n}>
              {PARTS[n]}
            </option>
          ))}
        </select>
        <select
          className="field"
          aria-label="Sound of the click"
          value={click.sound}
          onChange={(event) => set({ sound: event.target.value === 'tone' ? 'tone' : 'wood' })}
        >
          <option value="wood">a knock</option>
          <option value="tone">a tone</option>
        </select>
      </div>
      <div className="mt-1.5">
        <Strip
          parameter={LEVEL}
          label="level of the click"
          value={click.level}
          onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
          onChange={(level, gesture) => set({ level }, gesture)}
        />
      </div>
      <label className="mt-1.5 flex items-center gap-1.5">
        <input type="checkbox" checked={click.stage} onChange={(event) => set({ stage: event.target.checked })} />
        may be heard on Stage as well
      </label>
    </section>
  );
}
