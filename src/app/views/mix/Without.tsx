import { useEffect, useRef, useState } from 'react';
import type { Patch } from '../../../core/rig/schema';
import { measure, whatPlays } from '../../jobs/measuring';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';
import { useAppSelector } from '../../document/store';

type Difference = { lu: number; peak: number } | 'measuring' | 'nothing' | null;

const signed = (x: number): string => `${x < 0 ? '−' : '+'}${Math.abs(x).toFixed(1)}`;

/**
 * Lets something be heard as if it were not there, levelled by measured loudness unless asked otherwise, and tells the
 * difference. `*` stands for all effects.
 */
export function Without({ ids, patch, label }: { ids: readonly string[]; patch: Patch; label: string }) {
  const rig = useAppSelector((state) => state.rig.rig)!;
  const without = useStore(session, (now) => now.ears.without);
  const [levelled, setLevelled] = useState(true);
  const [difference, setDifference] = useState<Difference>(null);
  const key = ids.join(' ');
  const on = without.ids.join(' ') === key;
  const asked = useRef(0);
  // What was measured is of the patch as it was.
  useEffect(() => {
    asked.current++;
    setDifference(null);
  }, [key, patch]);
  const hear = async (level: boolean) => {
    session.ears.hearWithout(ids, 0);
    const playing = whatPlays();
    const mine = ++asked.current;
    if (!playing) return setDifference('nothing');
    setDifference('measuring');
    const { take, from } = playing;
    try {
      const [plain, less] = await Promise.all([
        measure(rig, patch, take, { from }),
        measure(rig, patch, take, { from, without: ids }),
      ]);
      if (mine !== asked.current) return;
      if (plain.lufs === null || less.lufs === null || !Number.isFinite(plain.lufs) || !Number.isFinite(less.lufs))
        return setDifference('nothing');
      const found = { lu: less.lufs - plain.lufs, peak: less.peakDb - plain.peakDb };
      setDifference(found);
      if (session.ears.without.ids.join(' ') === key) session.ears.hearWithout(ids, level ? -found.lu : 0);
    } catch {
      setDifference('nothing');
    }
  };
  const toggle = (next: boolean) => (next ? void hear(levelled) : session.ears.hearWithout([], 0));
  const words =
    difference === 'measuring'
      ? 'measuring …'
      : difference === 'nothing'
        ? 'Hold a chord, or load a take: then it is levelled.'
        : difference === null
          ? ''
          : `${on && levelled ? 'Levelled: without' : 'Without'} it is ${signed(difference.lu)} LU and ${signed(difference.peak)} dB in peak.`;
  if (ids[0] === '*')
    return (
      <button
        className="button"
        aria-pressed={on}
        title={`Everything without its effects, as loud as with them. ${words}`}
        onClick={() => toggle(!on)}
      >
        {label}
      </button>
    );
  return (
    <div className="flex flex-col gap-1">
      <div className="flex items-center gap-1.5">
        <button className="button px-2! py-0.5!" aria-pressed={!on} onClick={() => toggle(false)}>
          with
        </button>
        <button className="button px-2! py-0.5!" aria-pressed={on} onClick={() => toggle(true)}>
          without
        </button>
        <label
          className="ml-auto flex items-center gap-1 text-[12px] text-faint"
          title="As loud without it as with it, so that louder is not taken for better"
        >
          <input
            type="checkbox"
            checked={levelled}
            onChange={(event) => {
              setLevelled(event.target.checked);
              if (on && typeof difference === 'object' && difference)
                session.ears.hearWithout(ids, event.target.checked ? -difference.lu : 0);
            }}
          />
          levelled
        </label>
      </div>
      {words && (
        <p role="status" className="text-[12px] text-faint" data-testid="difference">
          {words}
        </p>
      )}
    </div>
  );
}
