import { useMemo } from 'react';
import { differenceOf } from '../../../core/rig/difference';
import { type LayerParameterId } from '../../../core/rig/parameters';
import { LAYER_PARAMETERS } from '../../../core/rig/layerParameters';
import type { Rig } from '../../../core/rig/schema';
import { rigSlice } from '../../document/rigSlice';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { formatValue } from '../../parts/format';
import { SheetFrame } from '../../parts/Sheet';

const SHOWN = 80;

/** What was done, in words and in order; a click goes back to just after it, or forward. */
export function EditsSheet() {
  const dispatch = useAppDispatch();
  const { rig, past, future, readOnly } = useAppSelector((state) => state.rig);
  const states = useMemo(() => [...past, rig!, ...future], [past, rig, future]);
  const now = past.length;
  const first = Math.max(0, Math.min(now - SHOWN / 2, states.length - SHOWN));
  return (
    <SheetFrame title="Edits">
      <ol className="text-[12.5px]">
        {states.slice(first, first + SHOWN).map((state, n) => {
          const i = first + n;
          return (
            <li key={i}>
              <button
                className={`w-full rounded-[5px] px-2 py-0.5 text-left ${i === now ? 'bg-ink text-paper' : i > now ? 'text-faint' : ''}`}
                disabled={readOnly}
                aria-current={i === now || undefined}
                onClick={() => dispatch(rigSlice.actions.jumped(i))}
              >
                {i === 0 ? 'as it was opened' : said(states[i - 1], state)}
              </button>
            </li>
          );
        })}
      </ol>
      {states.length === 1 && <p className="text-[12px] text-faint">Nothing has been edited yet.</p>}
    </SheetFrame>
  );
}

/** A step as it was done; where a single value was set, with that value. */
function said(before: Rig, after: Rig): string {
  const what = differenceOf(before, after)?.what ?? 'a change';
  const patch = after.patches.find((each) => !before.patches.includes(each));
  const old = before.patches.find((each) => each.id === patch?.id);
  const layers = patch?.layers.filter((layer) => !old?.layers.includes(layer)) ?? [];
  const was = old?.layers.find((layer) => layer.id === layers[0]?.id);
  if (layers.length !== 1 || !was) return what;
  const ids = (Object.keys(LAYER_PARAMETERS) as LayerParameterId[]).filter(
    (id) => was.params[id] !== layers[0].params[id],
  );
  if (ids.length !== 1) return what;
  return `${layers[0].name}: ${LAYER_PARAMETERS[ids[0]].label} ${formatValue(LAYER_PARAMETERS[ids[0]], layers[0].params[ids[0]] ?? LAYER_PARAMETERS[ids[0]].default)}`;
}
