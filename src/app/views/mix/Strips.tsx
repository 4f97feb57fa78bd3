import { useCallback, useRef } from 'react';
import { addSend, updateConnection, updatePool } from '../../../core/rig/edits/mix';
import { updateGroup } from '../../../core/rig/edits/groups';
import { updateLayer } from '../../../core/rig/edits/layers';
import { connectionsOf, nameOfPlace, placesIn, type PlaceId } from '../../../core/rig/mix';
import { CONNECTION_PARAMETERS } from '../../../core/rig/parameters';
import type { Patch } from '../../../core/rig/schema';
import { formatDb } from '../../parts/format';
import { colourOf, Mark } from '../../parts/Mark';
import { TargetStrip } from '../../parts/TargetStrip';
import { useFrames, useStore } from '../../parts/useLive';
import { choosePlace, pointingOf } from '../../hands/choosing';
import { session } from '../../sound/session';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { listeningSlice } from '../../listening/listeningSlice';

const HOLD_MS = 1500;

/** What a strip belongs to: a layer, a group or a shared effect, the layers in it, and the edit that switches it. */
function ownerOf(patch: Patch, id: string) {
  const layer = patch.layers.find((each) => each.id === id);
  const group = patch.groups.find((each) => each.id === id);
  const pool = patch.pools.find((each) => each.id === id);
  const inGroup = patch.layers.filter(({ groupId }) => group && groupId === id).map((each) => each.id);
  const switched = (old: Patch): Patch => {
    if (layer) return updateLayer(old, id, (each) => ({ ...each, on: !each.on }));
    if (group) return updateGroup(old, id, (each) => ({ ...each, on: !each.on }));
    return pool ? updatePool(old, id, { on: !pool.on }) : old;
  };
  return { layer, pool, owner: layer ?? group ?? pool, members: layer ? [id] : inGroup, switched };
}

/** The same mix as a table of strips: level, pan, width, mute, solo, sends, meters with the peak held. */
export function Strips({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const { mixChosen: chosen, chosenLayerIds: together } = useAppSelector((state) => state.choosing);
  const soloed = useAppSelector((state) => state.listening.soloed);
  const listening = useStore(session, (now) => now.ears.listening);
  const meters = useRef(new Map<string, { bar: HTMLElement; tick: HTMLElement; text: HTMLElement }>());
  const held = useRef(new Map<string, { level: number; at: number }>());
  const parts = useRef(new Map<string, HTMLElement>());
  useFrames(
    useCallback((now: number) => {
      for (const [place, { bar, tick, text }] of meters.current) {
        const level = 20 * Math.log10(session.meters.levelOfPlace(place) + 1e-6);
        const before = held.current.get(place);
        const peak = !before || level >= before.level || now - before.at > HOLD_MS ? { level, at: now } : before;
        held.current.set(place, peak);
        const share = (db: number) => `${Math.max(0, Math.min(100, (1 + db / 60) * 100)).toFixed(1)}%`;
        bar.style.width = share(level);
        tick.style.left = share(peak.level);
        const words = peak.level < -59 ? '' : peak.level.toFixed(1).replace('-', '−');
        if (text.textContent !== words) text.textContent = words;
        const loud = parts.current.get(`${place} lufs`);
        const lufs = session.meters.loudnessOfPlace(place);
        const said = lufs < -69 ? '' : lufs.toFixed(1).replace('-', '−');
        if (loud && loud.textContent !== said) loud.textContent = said;
      }
    }, []),
  );
  const places = placesIn(patch);
  const connections = connectionsOf(patch);
  const change = (edit: (old: Patch) => Patch, gesture?: string) => dispatch(editPatch(patch.id, edit, gesture));
  const pools = patch.pools;
  const row = (place: PlaceId) => {
    const [kind, id] = place.split('.');
    const name = nameOfPlace(patch, place);
    const { layer, pool, owner, members, switched } = ownerOf(patch, id);
    const solo = members.length > 0 && members.every((member) => soloed.includes(member));
    const alone = listening?.kind === 'place' && listening.id === place;
    const isChosen =
      (chosen?.kind === 'place' && chosen.id === place) ||
      (!chosen && place === 'main') ||
      (layer !== undefined && together.includes(layer.id));
    const colour = layer ? colourOf(layer.mark) : kind === 'pool' ? 'var(--plum)' : 'var(--slate)';
    return (
      <tr key={place} className={`border-t border-line ${isChosen ? 'bg-ink/8' : ''}`}>
        <th scope="row" className="max-w-40 py-1 pr-2 text-left font-normal">
          <button
            className={`flex w-full items-center gap-1.5 text-left ${owner && !owner.on ? 'text-faint line-through' : ''}`}
            aria-pressed={isChosen}
            onClick={(event) => choosePlace(patch, place, pointingOf(event))}
          >
            {layer ? (
              <span className={layer.groupId ? 'pl-3' : ''}>
                <Mark mark={layer.mark} size={11} />
              </span>
            ) : (
              <span className="w-[11px] text-center text-[11px] text-faint">
                {kind === 'group' ? '⋃' : kind === 'pool' ? '◠' : '▸'}
              </span>
            )}
            <span dir="auto" className="min-w-0 truncate font-semibold">
              {name}
            </span>
          </button>
        </th>
        <td className="px-1 whitespace-nowrap">
          {owner && (
            <button
              className="button px-1.5! py-0! text-[11.5px]"
              aria-label={`Mute ${owner.name}`}
              aria-pressed={!owner.on}
              onClick={() => change(switched)}
            >
              m
            </button>
          )}
          {members.length > 0 && (
            <button
              className="button ml-1 px-1.5! py-0! text-[11.5px]"
              aria-label={`Solo ${owner!.name}`}
              aria-pressed={solo}
              onClick={() => dispatch(listeningSlice.actions.soloSet({ ids: members, on: !solo }))}
            >
              s
            </button>
          )}
          {pool && (
            <button
              className="button ml-1 px-1.5! py-0! text-[11.5px]"
              aria-label={`Solo ${pool.name}`}
              aria-pressed={alone}
              onClick={() => session.ears.listenTo(alone ? null : { kind: 'place', id: place })}
            >
              s
            </button>
          )}
        </td>
        <td className="w-1/3 px-1">
          <div className="min-w-[124px]">
            <TargetStrip patch={patch} target={`${place}.level`} colour={colour} label={`level of ${name}`} headed />
          </div>
        </td>
        <td className="px-1">
          <div
            className="relative min-w-[84px] h-[12px] overflow-hidden rounded-full border border-edge bg-sheet"
            role="img"
            aria-label={`Level of ${name} now`}
          >
            <div
              className="h-full"
              style={{ background: colour, opacity: 0.6, width: 0 }}
              ref={(element) => {
                if (element) parts.current.set(`${place} bar`, element);
                join(place);
              }}
            />
            <div
              className="absolute inset-y-0 w-[2px] bg-ink"
              ref={(element) => {
                if (element) parts.current.set(`${place} tick`, element);
                join(place);
              }}
            />
          </div>
        </td>
        <td
          className="number w-12 pr-2 text-right text-[12px]"
          ref={(element) => {
            if (element) parts.current.set(`${place} text`, element);
            else meters.current.delete(place);
            join(place);
          }}
        />
        <td
          className="number w-12 pr-2 text-right text-[12px]"
          title="Loudness now, in LUFS"
          ref={(element) => {
            if (element) parts.current.set(`${place} lufs`, element);
          }}
        />
        <td className="px-1">
          {place === 'main' ? null : (
            <div className="w-[124px]">
              <TargetStrip
                patch={patch}
                target={`${place}.${kind === 'pool' ? 'balance' : 'pan'}`}
                colour={colour}
                label={`pan of ${name}`}
                headed
              />
            </div>
          )}
        </td>
        <td className="px-1">
          <div className="w-[124px]">
            <TargetStrip patch={patch} target={`${place}.width`} colour={colour} label={`width of ${name}`} headed />
          </div>
        </td>
        {pools.map((to) => {
          const at = `pool.${to.id}`;
          const send = connections.find(
            (connection) => connection.kind === 'send' && connection.from === place && connection.to === at,
          );
          if (place === 'main' || place === at) return <td key={to.id} />;
          return (
            <td key={to.id} className="px-1">
              <div className="w-[124px]">
                <TargetStrip
                  patch={patch}
                  target={`connection.${send?.id ?? ''}.level`}
                  label={`send of ${name} to ${to.name}`}
                  headed
                  colour="var(--plum)"
                  unmade={{
                    parameter: CONNECTION_PARAMETERS.level,
                    value: CONNECTION_PARAMETERS.level.low,
                    make: (old, level) => {
                      const next = addSend(old, place, at);
                      const made = next.connections.find(
                        (connection) => connection.kind === 'send' && connection.from === place && connection.to === at,
                      );
                      return made ? updateConnection(next, made.id, { level }) : old;
                    },
                  }}
                />
              </div>
            </td>
          );
        })}
      </tr>
    );
  };
  /** A meter is drawn once all its parts are there. */
  const join = (place: PlaceId) => {
    const [bar, tick, text] = ['bar', 'tick', 'text'].map((part) => parts.current.get(`${place} ${part}`));
    if (bar && tick && text) meters.current.set(place, { bar, tick, text });
  };
  return (
    <div
      className="min-h-0 scroll-pt-12 overflow-auto px-4 pt-12 [scrollbar-width:thin]"
      role="group"
      aria-label="The mix as strips"
      tabIndex={0}
    >
      <table className="w-full text-[12.5px]">
        <thead>
          <tr className="text-left text-[12px] text-faint">
            {['strip', 'm, s', 'level', 'now', 'peak', 'LUFS', 'pan', 'width'].map((words) => (
              <th
                key={words}
                className={`px-1 font-normal ${words === 'peak' || words === 'LUFS' ? 'text-right' : ''}`}
              >
                {words}
              </th>
            ))}
            {pools.map((pool) => (
              <th key={pool.id} className="max-w-28 truncate px-1 font-normal">
                to {pool.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{places.map(row)}</tbody>
      </table>
      <p className="py-2 text-[12px] text-faint">
        Peak: the highest of the last moments, {formatDb(0)} is full scale. More of what is chosen stands below on the
        right.
      </p>
    </div>
  );
}
