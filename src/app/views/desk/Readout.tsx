import { nameOfKey } from '../../../core/music/noteNames';
import type { Patch } from '../../../core/rig/schema';
import { gainsAt } from '../../sound/gains';
import { session } from '../../sound/session';
import { useAppSelector } from '../../document/store';
import { formatDb } from '../../parts/format';
import { colourOf, Mark } from '../../parts/Mark';
import { usePointed } from '../../parts/pointed';
import { useTick } from '../../parts/useTick';
import { useRefresh } from '../../parts/useLive';

/** Which layers sound where the pointer is, or at the last strike, and how loud. */
export function Readout({ patch }: { patch: Patch }) {
  const pointed = usePointed();
  useRefresh(session.hands);
  useRefresh(session);
  // Dots and movers go on without anybody's hand.
  useTick(
    patch.xyPads.length > 0 || (session.program?.layers.some((layer) => layer.movingWindows.length > 0) ?? false),
    6,
  );
  const middleC = useAppSelector((state) => state.settings.middleC);
  const midi = useMidiText();
  const last = session.hands.strikes[session.hands.strikes.length - 1];
  const place = pointed ?? last;
  const many = patch.layers.length > 3;
  // With more than two columns of three, everything moves together.
  const crowded = patch.layers.length > 6;
  const gains = place ? gainsAt(place.key, place.velocity) : [];
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-testid="readout">
      <h2 className="heading mb-1">
        {place
          ? `${pointed ? 'here' : 'last strike'}: ${nameOfKey(place.key, middleC)} (${place.key}), velocity ${place.velocity}`
          : 'point at the map, or play'}
      </h2>
      <ul
        className={`grid min-h-0 flex-1 auto-rows-min gap-x-4 overflow-y-auto ${many ? 'grid-cols-2' : ''} ${crowded ? 'gap-x-2!' : ''} [scrollbar-width:thin]`}
        tabIndex={crowded ? 0 : undefined}
        aria-label="Levels of the layers"
      >
        {patch.layers.map((layer) => {
          const gain = gains.find((candidate) => candidate.layerId === layer.id);
          const silent = !gain || gain.gain === 0;
          return (
            <li
              key={layer.id}
              className={`relative flex min-w-0 items-center gap-2 ${crowded ? 'gap-1! text-[11px] leading-[1.2]' : 'text-[12.5px] leading-[1.55]'} ${silent ? 'text-faint' : ''}`}
            >
              {!silent && (
                <span
                  aria-hidden
                  className="absolute bottom-0 left-0 h-[2px]"
                  style={{ width: `${Math.min(1, gain.gain) * 100}%`, background: colourOf(layer.mark) }}
                />
              )}
              <Mark mark={layer.mark} size={crowded ? 9 : 11} />
              <span dir="auto" className="flex-1 truncate">
                {layer.name}
              </span>
              <span className="number whitespace-nowrap">
                {!gain ? '' : !silent && layer.path.instrument !== null ? 'outside' : formatDb(gain.db)}
              </span>
            </li>
          );
        })}
      </ul>
      <p
        className={`${crowded ? 'hidden' : patch.layers.length > 2 ? 'line-clamp-1' : 'line-clamp-2'} shrink-0 pt-1 text-[11.5px] leading-[1.25] text-faint`}
        title={midi}
      >
        {midi}
      </p>
    </div>
  );
}

/** What was heard last from a controller and what it moved; before that, which controllers there are. */
function useMidiText(): string {
  useRefresh(session.midi);
  useRefresh(session.hearing.monitor);
  return session.hearing.lastHeard ? `last heard: ${session.hearing.lastHeard}` : session.midi.status.text;
}
