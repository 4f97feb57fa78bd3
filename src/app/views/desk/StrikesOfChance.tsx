import { useState } from 'react';
import {
  amountMacro,
  ATTRIBUTES,
  keepStrike,
  limitOf,
  scatterOver,
  scatterRoutes,
  setLimit,
  takeOffScatter,
  type Together,
} from '../../../core/rig/edits/chance';
import type { Patch } from '../../../core/rig/schema';
import { session } from '../../sound/session';
import { editPatch, useAppDispatch, useAppSelector } from '../../document/store';
import { Part } from '../../parts/Part';
import { TargetStrip } from '../../parts/TargetStrip';
import { TypedField } from '../../parts/TypedField';

/** Chance at each strike over several layers: an amount for each attribute, in one action. */
export function Strikes({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const chosen = useAppSelector((state) => state.choosing.chosenLayerIds);
  const several = chosen.filter((id) => patch.layers.some((layer) => layer.id === id));
  const [over, setOver] = useState('all');
  const [together, setTogether] = useState<Together>('each');
  const ids =
    over === 'chosen' && several.length > 0
      ? several
      : over.startsWith('group.')
        ? patch.layers.filter(({ groupId }) => groupId === over.slice(6)).map(({ id }) => id)
        : over.startsWith('layer.')
          ? [over.slice(6)]
          : patch.layers.map(({ id }) => id);
  const change = (edit: (old: Patch) => Patch) => dispatch(editPatch(patch.id, edit));
  const kept = patch.layers.filter((layer) => ids.includes(layer.id) && layer.kept !== null);
  return (
    <fieldset disabled={readOnly} className="flex flex-col gap-2.5">
      <div className="grid grid-cols-2 gap-2">
        <label className="flex flex-col gap-0.5">
          <span className="heading">Over</span>
          <select className="field" value={over} onChange={(event) => setOver(event.target.value)}>
            <option value="all">all layers of the patch</option>
            {several.length > 1 && <option value="chosen">the {several.length} chosen layers</option>}
            {patch.groups.map(({ id, name }) => (
              <option key={id} value={`group.${id}`}>
                group {name}
              </option>
            ))}
            {patch.layers.map(({ id, name }) => (
              <option key={id} value={`layer.${id}`}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col gap-0.5">
          <span className="heading">Chance</span>
          <select className="field" value={together} onChange={(event) => setTogether(event.target.value as Together)}>
            <option value="each">of each layer for itself</option>
            <option value="together">the same for all layers of a strike</option>
          </select>
        </label>
      </div>
      <button
        className="button justify-center font-semibold"
        disabled={ids.length === 0}
        title="A macro for each of them sets how far"
        onClick={() =>
          change((old) =>
            scatterOver(
              old,
              ids,
              ATTRIBUTES.filter(
                ({ id }) =>
                  id !== 'choice' || patch.layers.some((layer) => ids.includes(layer.id) && layer.list.length > 1),
              ).map(({ id }) => id),
              together,
            ),
          )
        }
      >
        Scatter over {ids.length === 1 ? 'this layer' : `these ${ids.length} layers`}
      </button>
      <ul className="flex flex-col gap-1">
        {ATTRIBUTES.map((attribute) => {
          const routes = scatterRoutes(patch, ids, attribute);
          const macro = amountMacro(patch, ids, attribute);
          return (
            <li key={attribute.id} className="grid grid-cols-[140px_minmax(0,1fr)_116px] items-center gap-2">
              <label className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={routes.length > 0}
                  disabled={ids.length === 0}
                  onChange={(event) => {
                    const { checked } = event.target;
                    change((old) =>
                      checked ? scatterOver(old, ids, [attribute.id], together) : takeOffScatter(old, ids, attribute),
                    );
                  }}
                />
                {attribute.label}
              </label>
              {macro === undefined ? (
                <span className="text-[12px] text-faint">the same each time</span>
              ) : (
                <TargetStrip patch={patch} target={`macro.${macro}`} label="how far" colour="var(--plum)" />
              )}
              {limitOf(patch, ids, attribute) === undefined ? (
                <span className="text-[11.5px] whitespace-nowrap text-faint">
                  {attribute.id === 'reversed' ? 'as often as not' : ''}
                </span>
              ) : (
                <TypedField
                  label={attribute.around ? '±' : '≤'}
                  text={`${limitOf(patch, ids, attribute)} ${attribute.unit}`}
                  commit={(text) => {
                    const read = Number.parseFloat(text.replace('−', '-').replace(',', '.'));
                    if (Number.isNaN(read) || read < 0)
                      return `a number${attribute.unit ? ` of ${attribute.unit}` : ''}`;
                    change((old) => setLimit(old, ids, attribute, read));
                    return undefined;
                  }}
                />
              )}
            </li>
          );
        })}
      </ul>
      <Part title="The last strike">
        <div className="flex items-center gap-2">
          <button
            className="button"
            disabled={ids.length === 0}
            title="Every strike of these layers has the chances of the last one from now on"
            onClick={() => {
              const seed = session.meters.strikeSeed();
              change((old) => keepStrike(old, ids, seed));
            }}
          >
            Keep this one
          </button>
          {kept.length > 0 && (
            <button className="button" onClick={() => change((old) => keepStrike(old, ids, null))}>
              Let chance go on
            </button>
          )}
          <span className="text-[12px] text-faint">
            {kept.length > 0
              ? `${kept.length === 1 ? kept[0].name : `${kept.length} layers`} kept`
              : 'each strike has its own'}
          </span>
        </div>
      </Part>
      <p className="text-[12px] text-faint">
        Limits and curves are those of the routes that this makes: the list of what moves what in Control shows and
        changes them.
      </p>
    </fieldset>
  );
}
