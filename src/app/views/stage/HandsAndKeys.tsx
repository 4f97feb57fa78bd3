import { useEffect, useMemo, useState } from 'react';
import { handJobs } from '../../../core/rig/hands';
import type { Patch } from '../../../core/rig/schema';
import { Keyboard } from '../../parts/Keyboard';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';

/** What wheels and pedals do here, and where they stand. */
export function Hands({ patch }: { patch: Patch }) {
  const jobs = useMemo(() => handJobs(patch), [patch]);
  useStore(session.hands, (hands) => hands.controls);
  const { cc } = session.hands.controllers;
  return (
    <ul
      aria-label="Wheels and pedals"
      className="flex max-h-[76px] shrink-0 flex-wrap gap-x-5 overflow-y-auto [scrollbar-width:thin] border-t border-line px-4 py-1 text-[15px] leading-snug max-sm:px-2 max-sm:text-[13px] [@media(max-height:420px)]:hidden"
    >
      {jobs.map(({ source, label, does }) => {
        const value = source.startsWith('cc.') ? cc[Number(source.slice(3))] : 0;
        return (
          <li key={source}>
            <b className={value > 0 ? 'text-teal' : ''}>{label.replace(/ \(CC \d+\)$/, '')}</b>{' '}
            <span className="text-ink/80">{does}</span>
          </li>
        );
      })}
    </ul>
  );
}

export function Keys({ patch }: { patch: Patch }) {
  const [height, setHeight] = useState(() => keysHeight());
  useEffect(() => {
    const follow = () => setHeight(keysHeight());
    window.addEventListener('resize', follow);
    return () => window.removeEventListener('resize', follow);
  }, []);
  return (
    <div className="shrink-0 border-t-2 border-edge">
      <Keyboard patch={patch} height={height} />
    </div>
  );
}
/** A phone held upright has its room for what is touched; its keys are small anyway. */
const keysHeight = (): number =>
  Math.round(Math.max(56, Math.min(140, window.innerHeight * (window.innerWidth < 640 ? 0.11 : 0.16))));
