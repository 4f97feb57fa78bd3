import { A4_HZ, HIGHEST_A4_HZ, LOWEST_A4_HZ } from '../../../core/music/tunings';
import { TypedField } from '../../parts/TypedField';

/** The A in Hz, typed as such or in cents from 440; stepped by whole Hz. */
export function ConcertPitch({ a4, onChange }: { a4: number; onChange: (a4: number) => void }) {
  const cents = 1200 * Math.log2(a4 / A4_HZ);
  const inCents = Math.abs(cents) < 0.05 ? '' : ` · ${cents > 0 ? '+' : '−'}${Math.abs(cents).toFixed(1)} cents`;
  return (
    <span className="flex items-center gap-2">
      <span className="w-32">
        <TypedField
          label="A4"
          text={`${Number(a4.toFixed(1))} Hz`}
          step={(by) => onChange(Math.round(a4) + by)}
          commit={(typed) => {
            const value = Number(
              typed
                .replace(/hz|cents?|c$/gi, '')
                .replace('−', '-')
                .trim(),
            );
            const hz = /c/i.test(typed) ? A4_HZ * 2 ** (value / 1200) : value;
            if (typed.trim() === '' || !(hz >= LOWEST_A4_HZ - 0.05 && hz <= HIGHEST_A4_HZ + 0.05))
              return `from ${LOWEST_A4_HZ} to ${HIGHEST_A4_HZ} Hz, or cents from 440 such as “−20 c”`;
            onChange(hz);
            return undefined;
          }}
        />
      </span>
      {inCents && <span className="number text-[12px] whitespace-nowrap text-faint">{inCents.slice(3)}</span>}
    </span>
  );
}
