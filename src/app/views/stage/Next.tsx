import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useCallback } from 'react';
import { labelOfControl } from '../../../core/music/control';
import { nameOfEntry, type ShowStep } from '../../../core/rig/setlist';
import type { Patch, Rig } from '../../../core/rig/schema';
import { dotNow } from '../../sound/live';
import { padView } from '../../show/padView';
import { LayersOfPatch } from './Now';
import { PadAnchors } from '../../parts/PadAnchors';
import { PadPlane } from '../../parts/PadPlane';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { neighboursOf, show, titleOfStep } from '../../show/show';
import { useAppSelector } from '../../document/store';

/** What comes next and how to get there; a touch anywhere on it goes there. */
export function Next({ rig, next, place }: { rig: Rig; next: ShowStep | undefined; place: number }) {
  useRefresh(session);
  const asked = neighboursOf(rig, place)[0];
  const ready = next?.patch && asked ? session.programs.readinessOf(rig, asked) : undefined;
  const { bindings, programs } = rig.controllers;
  const ways = [
    '→ or page down',
    ...bindings.filter(({ target }) => target === 'show.next').map(({ control }) => labelOfControl(control)),
    ...(programs === 'setlist' ? [`program ${place + 1}`] : []),
  ];
  const named = next && titleOfStep(rig, next);
  return (
    <div className="flex shrink-0 gap-2">
      <button
        className="flex h-auto min-h-16 w-14 shrink-0 items-center justify-center rounded-xl border border-edge bg-sheet disabled:opacity-35"
        aria-label="Back"
        title="The step before (←, page up)"
        disabled={place <= 0}
        onClick={() => show.previous()}
      >
        <ChevronLeft size={30} />
      </button>
      <button
        className="flex min-h-16 min-w-0 flex-1 items-center gap-2 rounded-xl border border-edge bg-sheet px-4 py-2 text-left disabled:opacity-60"
        disabled={!next}
        onClick={() => show.next()}
      >
        <span className="min-w-0 flex-1 leading-tight">
          <span className="block text-[14px] text-faint">
            {next ? `next${named!.song ? ` · ${named!.song}` : ''}` : 'the end of the show'}
          </span>
          <span
            className="line-clamp-2 text-[clamp(19px,2.3vw,32px)] font-semibold break-words"
            data-testid="stage-next"
          >
            {named?.title ?? '—'}
          </span>
          {next && <span className="block truncate text-[13.5px] text-faint max-sm:hidden">{ways.join(' · ')}</span>}
          {next && next.patch && (
            <span
              className={`block text-[13.5px] ${ready && ready.missing === 0 ? 'text-faint' : 'text-ochre'}`}
              data-testid="stage-ready"
            >
              {!ready
                ? 'it cannot be played'
                : ready.missing > 0
                  ? `${ready.missing} ${ready.missing === 1 ? 'sample' : 'samples'} missing`
                  : ready.coming > 0
                    ? `${ready.coming} ${ready.coming === 1 ? 'sample' : 'samples'} to come`
                    : 'ready'}
            </span>
          )}
          {next && !next.patch && (
            <span className="block text-[13.5px] text-faint">
              {nameOfEntry(rig, next.entry)}
              {next.entry.minutes > 0 ? `, ${next.entry.minutes} minutes` : ''}
            </span>
          )}
        </span>
        {next && <ChevronRight size={30} className="shrink-0" />}
      </button>
    </div>
  );
}

export function Pads({ patch }: { patch: Patch }) {
  const theme = useAppSelector((state) => state.settings.stageTheme);
  if (patch.xyPads.length === 0)
    return patch.macros.length > 0 ? <LayersOfPatch patch={patch} /> : <div className="flex-1" />;
  return (
    <div
      className={`grid min-h-0 flex-1 auto-rows-fr gap-3 overflow-hidden ${patch.xyPads.length > 1 ? 'portrait:grid-cols-2 min-[1200px]:grid-cols-2' : ''}`}
    >
      {patch.xyPads.map((pad, n) => (
        <LivePad key={pad.number} patch={patch} n={n} theme={theme} />
      ))}
    </div>
  );
}

function LivePad({ patch, n, theme }: { patch: Patch; n: number; theme: string }) {
  const pad = patch.xyPads[n];
  const view = padView(patch, pad);
  const read = useCallback(() => dotNow(n, pad.number), [n, pad.number]);
  return (
    // As large as there is room both ways.
    <figure className="relative flex min-h-0 min-w-0 flex-col items-center" style={{ containerType: 'size' }}>
      <div style={{ width: 'min(100cqw, calc(100cqh - 26px))' }}>
        <PadPlane
          pad={view}
          theme={theme}
          read={read}
          keepsFocus
          dotSize={30}
          onMove={(x, y, letGo) => session.play({ type: 'xy', number: pad.number, x, y, letGo })}
          onRest={() => session.play({ type: 'rest', kind: 'xy', number: pad.number })}
        >
          <PadAnchors anchors={view.anchors} />
        </PadPlane>
      </div>
      <figcaption dir="auto" className="truncate pt-0.5 text-[15px] text-faint">
        {pad.name}
        {pad.motion !== 'hand' ? ` · ${pad.motion}` : ''}
      </figcaption>
    </figure>
  );
}
