import { line, scaleLinear } from 'd3';
import { useState } from 'react';
import { connect, deleteBlend, deleteRoute, keyFormula } from '../../../core/rig/edits/moves';
import { updateBlend } from '../../../core/rig/edits/pads';
import { sourcesIn } from '../../../core/rig/moves';
import { gainOfWindow } from '../../../core/space/window';
import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import type { Patch, Route } from '../../../core/rig/schema';
import { axesOf, gainsOfBlend } from '../../sound/gains';
import { useRefresh } from '../../parts/useLive';
import { session } from '../../sound/session';
import { sourceName } from '../../parts/moved';
import { Strip } from '../../parts/Strip';
import { TargetStrip } from '../../parts/TargetStrip';
import { TypedField } from '../../parts/TypedField';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import type { Parameter } from '../../../core/rig/parameters';
import { Moves } from './Moves';
import { Named, Part } from '../../parts/Part';

const VELOCITY = '2 * (velocity - 1) / 126 - 1';
const SHARE_OF: Parameter = {
  id: 'contribution',
  label: '',
  unit: '%',
  low: -100,
  high: 100,
  default: 0,
  law: 'linear',
  reach: 'note',
  sides: 2,
  help: 'How far it takes the blend: at +100 % from one end to the other, at −100 % the other way round.',
};

/** A blend in numbers: where it rests, what takes it from there and how far, and each layer's share along the line. */
export function BlendPanel({ patch, blend }: { patch: Patch; blend: Patch['blends'][number] }) {
  const dispatch = useAppDispatch();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const { number } = blend;
  const target = `blend.${number}`;
  const change = (edit: (old: Patch) => Patch, gesture?: string) => dispatch(editPatch(patch.id, edit, gesture));
  const routes = patch.routes.filter((route) => route.target === target);
  const byKey = routes.find((route) => typeof route.source !== 'string' && route.source.formula.includes('key'));
  const byVelocity = routes.find((route) => typeof route.source !== 'string' && route.source.formula === VELOCITY);
  const pivotText =
    byKey && typeof byKey.source !== 'string' ? /max\(0, \(key - (\d+)\)/.exec(byKey.source.formula)?.[1] : undefined;
  const [pivot, setPivot] = useState<number | null>(pivotText ? Number(pivotText) : null);
  const others = routes.filter((route) => route !== byKey && route !== byVelocity);
  const end = () => dispatch(rigSlice.actions.gestureEnded());
  // From one end of the line to the other is a depth of one half for what goes to both sides, of one for what goes
  // upward.
  const strip = (
    label: string,
    route: Route | undefined,
    whole: number,
    set: (depth: number) => (old: Patch) => Patch,
  ) => (
    <Strip
      parameter={{ ...SHARE_OF, label }}
      value={((route?.depth ?? 0) / whole) * 100}
      colour="var(--moss)"
      onChange={(value, gesture) => change(set((value / 100) * whole), gesture)}
      onEnd={end}
    />
  );
  const put = (source: Route['source'], route: Route | undefined) => (depth: number) => (old: Patch) =>
    depth === 0 && route ? deleteRoute(old, route.id) : connect(old, source, target, depth);
  const setPivotTo = (key: number | null) => {
    setPivot(key);
    if (byKey)
      change((old) => ({
        ...old,
        routes: old.routes.map((route) =>
          route.id === byKey.id ? { ...route, source: { formula: keyFormula(key) } } : route,
        ),
      }));
  };
  return (
    <>
      <Named
        name={blend.name}
        kind={`blend ${number}`}
        onName={(name) => change((old) => updateBlend(old, number, { name }))}
      />
      <BlendPicture patch={patch} number={number} />
      <Part title="Where it rests">
        <TargetStrip patch={patch} target={target} label="rests at" colour="var(--moss)" />
      </Part>
      <Part title="What takes it from there">
        {strip('by key', byKey, 0.5, put(byKey?.source ?? { formula: keyFormula(pivot) }, byKey))}
        <TypedField
          label="pivot of the keys"
          text={pivot === null ? 'the middle' : nameOfKey(pivot, middleC)}
          step={(by) => setPivotTo(Math.min(107, Math.max(22, (pivot ?? 64) + by)))}
          commit={(typed) => {
            if (typed.trim() === '' || /middle/.test(typed)) {
              setPivotTo(null);
              return undefined;
            }
            const key = parseKey(typed, middleC);
            if (key === undefined || key < 1 || key > 126) return 'a key such as E3';
            setPivotTo(key);
            return undefined;
          }}
        />
        {strip('by velocity', byVelocity, 0.5, put({ formula: VELOCITY }, byVelocity))}
        {others.map((route) => (
          <div key={route.id}>
            {strip(
              `by ${sourceName(patch, route)}`,
              route,
              1,
              (depth) => (old) =>
                depth === 0 ? deleteRoute(old, route.id) : connect(old, route.source, target, depth),
            )}
          </div>
        ))}
        <select
          className="field"
          value=""
          aria-label="Add what moves the blend"
          onChange={(event) => {
            if (event.target.value) change((old) => connect(old, event.target.value, target, 0.5));
          }}
        >
          <option value="">something more …</option>
          {sourcesIn(patch)
            .filter(
              ({ id }) =>
                id !== target && id !== 'key' && id !== 'velocity' && !others.some((route) => route.source === id),
            )
            .map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
        </select>
      </Part>
      <Moves patch={patch} source={target} />
      <button
        className="button self-start"
        onClick={() => {
          change((old) => deleteBlend(old, number));
          dispatch(told(`The blend “${blend.name}” is gone, with the windows on it.`));
        }}
      >
        Delete this blend
      </button>
    </>
  );
}

const COLUMNS = 128;

/**
 * Gain of each layer along the line, or over a source that takes the blend along it, by the windows that make the
 * sound.
 */
function BlendPicture({ patch, number }: { patch: Patch; number: number }) {
  const [over, setOver] = useState('');
  const axes = axesOf(patch);
  const source = axes.find(({ id }) => id === over);
  useRefresh(session);
  useRefresh(session.hands);
  const swept = source ? gainsOfBlend(number, source.id, COLUMNS) : null;
  const layers = patch.layers.flatMap((layer) => {
    const window = layer.windows.find(({ source }) => source === `blend.${number}`);
    return window ? [{ layer, window }] : [];
  });
  const x = scaleLinear([0, 1], [0, 240]);
  const y = scaleLinear([0, 1], [88, 4]);
  const along = Array.from({ length: COLUMNS }, (_, i) => i / (COLUMNS - 1));
  const path = line<number>((t) => x(t));
  const gainOf = (layerId: string, window: (typeof layers)[number]['window'], t: number): number =>
    swept ? (swept.get(layerId)?.[Math.round(t * (COLUMNS - 1))] ?? 0) : gainOfWindow(window, t);
  return (
    <>
      <svg
        viewBox="0 0 240 92"
        className="w-full rounded-md border border-edge bg-sheet"
        role="img"
        aria-label={`Gain of ${layers.map(({ layer }) => layer.name).join(', ')} ${source ? `over ${source.label}` : 'along the blend'}`}
      >
        {layers.map(({ layer, window }) => (
          <path
            key={layer.id}
            d={path.y((t) => y(gainOf(layer.id, window, t)))(along) ?? ''}
            fill="none"
            stroke={`var(--${layer.mark.colour})`}
            strokeWidth={2}
          />
        ))}
        {layers.length === 0 && (
          <text x={120} y={48} textAnchor="middle" fill="var(--faint)" fontSize={11}>
            no layer has a window on it
          </text>
        )}
      </svg>
      <label className="flex items-center gap-2 text-[12px]">
        <span className="text-faint">drawn over</span>
        <select
          className="field min-w-0 flex-1"
          value={source ? over : ''}
          onChange={(event) => setOver(event.target.value)}
        >
          <option value="">the line itself, from end to end</option>
          {axes.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}, everything else as it is
            </option>
          ))}
        </select>
      </label>
    </>
  );
}
