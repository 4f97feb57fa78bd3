import { useEffect, useRef, useState } from 'react';
import { effectsIn, nameOfPlace } from '../../../core/rig/mix';
import type { Patch } from '../../../core/rig/schema';
import { LoudnessMeter } from '../../../core/measure/loudnessMeter';
import { scope } from '../../sound/scope';
import { useAppSelector } from '../../document/store';

const shown = (x: number, unit: string, low = -69): string =>
  x < low ? `silent` : `${x.toFixed(1).replace('-', '−')} ${unit}`;

/**
 * What is measured at the place of the mix that is looked at: loudness now, over three seconds and since it is looked
 * at, true peak, likeness of both sides.
 */
export function MixReadout({ patch }: { patch: Patch }) {
  const chosen = useAppSelector((state) => state.choosing.mixChosen);
  const found =
    chosen?.kind === 'effect'
      ? effectsIn(patch).find(({ effect }) => effect.id === chosen.id)?.place
      : chosen?.kind === 'place'
        ? chosen.id
        : undefined;
  const place = found ?? 'main';
  const meter = useRef<LoudnessMeter>(null);
  const held = useRef(-120);
  const [numbers, setNumbers] = useState({
    momentary: -Infinity,
    short: -Infinity,
    whole: -Infinity,
    seconds: 0,
    peak: -120,
    correlation: 1,
  });
  useEffect(() => {
    const loudness = new LoudnessMeter(scope.rate);
    meter.current = loudness;
    held.current = -120;
    let at: number | undefined;
    const timer = setInterval(() => {
      const more = scope.since(at);
      at = more.at;
      loudness.take(more.left, more.right, more.left.length);
      const { peakDb, correlation } = scope.numbers();
      held.current = Math.max(peakDb, held.current - 0.6);
      const { momentary, shortTerm: short, whole, seconds } = loudness;
      setNumbers({ momentary, short, whole, seconds, peak: held.current, correlation });
    }, 100);
    return () => clearInterval(timer);
  }, [place, patch.id]);
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-0.5" data-testid="mix-readout">
      <h2 className="heading truncate">
        here: {place === 'main' ? 'main' : `${nameOfPlace(patch, place)}, after its strip`}
      </h2>
      <dl className="grid min-h-0 grid-cols-[1fr_auto_1fr_auto] gap-x-2 overflow-y-auto text-[12.5px] leading-[1.5] whitespace-nowrap [scrollbar-width:none] max-[1100px]:grid-cols-[1fr_auto] max-[1100px]:text-[11.5px] max-[1100px]:leading-[1.3]">
        <dt className="text-faint">now</dt>
        <dd className="number text-right">{shown(numbers.momentary, 'LUFS')}</dd>
        <dt className="text-faint">true peak</dt>
        <dd className="number text-right">{shown(numbers.peak, 'dB')}</dd>
        <dt className="text-faint">3 seconds</dt>
        <dd className="number text-right" data-testid="short-term">
          {shown(numbers.short, 'LUFS')}
        </dd>
        <dt className="text-faint">sides alike</dt>
        <dd className="number text-right">{numbers.correlation.toFixed(2).replace('-', '−')}</dd>
        <dt className="text-faint" title="Loudness of all since this place is looked at, or since it was measured anew">
          since <span data-testid="measured-seconds">{Math.floor(numbers.seconds)}</span> s
        </dt>
        <dd className="number text-right">{shown(numbers.whole, 'LUFS')}</dd>
        <dd className="col-span-2 text-right max-[1100px]:hidden">
          <button
            className="text-[12px] underline decoration-dotted"
            onClick={() => {
              meter.current?.reset();
              held.current = -120;
            }}
          >
            measure anew
          </button>
        </dd>
      </dl>
    </div>
  );
}
