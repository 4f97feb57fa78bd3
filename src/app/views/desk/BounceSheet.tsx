import { NumberBox } from '../../parts/NumberBox';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { everyKeys, strikesOf, targetsOf, type BounceSettings, type BounceWhat } from '../../../core/bounce/plan';
import { nameOfKey, parseKey } from '../../../core/music/noteNames';
import type { Patch, Rig } from '../../../core/rig/schema';
import { bouncing } from '../../jobs/bouncing';
import { checkState } from '../../jobs/checkState';
import { session } from '../../sound/session';
import { showing } from '../../show/showing';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { SheetFrame } from '../../parts/Sheet';
import { TypedField } from '../../parts/TypedField';
import { useRefresh } from '../../parts/useLive';

/** Whole numbers as they are typed, `40 80 127`; a text says what is wrong. */
function readList(text: string, low: number, high: number): number[] | string {
  const words = text.split(/[\s,;]+/).filter(Boolean);
  const numbers = [...new Set(words.map(Number))].sort((a, b) => a - b);
  if (numbers.length === 0) return 'at least one';
  const wrong = numbers.find((n) => !Number.isInteger(n) || n < low || n > high);
  return wrong === undefined ? numbers : `whole numbers from ${low} to ${high}`;
}

const valueOf = (what: BounceWhat): string => (what.kind === 'patch' ? 'patch' : `${what.kind}.${what.id}`);
function whatOf(value: string): BounceWhat {
  const [kind, id] = value.split(/\.(.*)/s);
  return kind === 'patch' ? { kind: 'patch' } : { kind: kind as 'layer', id };
}

/** A patch, or a part of it, becomes samples again. */
export function BounceSheet({ rig, patch }: { rig: Rig; patch: Patch }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const middleC = useAppSelector((state) => state.settings.middleC);
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  useRefresh(bouncing);
  const [what, setWhat] = useState<BounceWhat>({ kind: 'patch' });
  const [low, setLow] = useState(Math.max(rig.controllers.keyLow, 36));
  const [high, setHigh] = useState(Math.min(rig.controllers.keyHigh, 84));
  const [every, setEvery] = useState(3);
  const [velocities, setVelocities] = useState<readonly number[]>([50, 90, 127]);
  const [alternates, setAlternates] = useState(1);
  const [seconds, setSeconds] = useState(3);
  const [flags, setFlags] = useState({ stereo: true, loop: false, effects: true, rebuild: false, asItStands: false });
  const { place } = bouncing;
  useEffect(() => () => checkState.set({ trial: null }), []);
  const settings: BounceSettings = {
    what,
    keys: everyKeys(low, high, every),
    low,
    high,
    velocities,
    alternates,
    seconds,
    longestTail: 20,
    stereo: flags.stereo,
    loop: flags.loop,
    effects: flags.effects,
    rebuild: flags.rebuild && what.kind !== 'pool',
    set: flags.asItStands ? asItStands(patch) : {},
  };
  let count = 0;
  let problem: string | undefined;
  try {
    count = strikesOf(targetsOf(patch, settings), settings).length;
  } catch (error) {
    problem = (error as Error).message;
  }
  const flag = (name: keyof typeof flags, label: string, title: string, disabled = false) => (
    <label className="flex items-center gap-1.5" title={title}>
      <input
        type="checkbox"
        checked={flags[name]}
        disabled={disabled}
        onChange={(event) => setFlags({ ...flags, [name]: event.target.checked })}
      />
      {label}
    </label>
  );
  const keyField = (label: string, value: number, set: (key: number) => void, least: number, most: number) => (
    <TypedField
      label={label}
      text={nameOfKey(value, middleC)}
      step={(by) => set(Math.max(least, Math.min(most, value + by)))}
      commit={(typed) => {
        const key = parseKey(typed, middleC);
        if (key === undefined) return `“${typed}” is no key`;
        if (key < least || key > most) return `from ${nameOfKey(least, middleC)} to ${nameOfKey(most, middleC)}`;
        set(key);
        return undefined;
      }}
    />
  );
  const numberField = (
    label: string,
    value: number,
    set: (n: number) => void,
    least: number,
    most: number,
    whole = true,
  ) => (
    <TypedField
      label={label}
      text={String(value)}
      step={(by) => set(Math.max(least, Math.min(most, value + by)))}
      commit={(typed) => {
        const n = Number(typed.replace(',', '.'));
        if (!Number.isFinite(n) || (whole && !Number.isInteger(n)) || n < least || n > most)
          return `from ${least} to ${most}`;
        set(n);
        return undefined;
      }}
    />
  );
  return (
    <SheetFrame title="Bounce to samples" wide>
      {place.kind === 'busy' ? (
        <div className="flex flex-col gap-2">
          <p role="status">
            Rendering strike {Math.min(place.of, place.done + 1)} of {place.of} …
          </p>
          <progress className="w-full" max={place.of} value={place.done} aria-label="Bounce" />
          <button className="button self-start" onClick={() => bouncing.cancel()}>
            Give up
          </button>
        </div>
      ) : place.kind === 'done' ? (
        <Done
          rig={rig}
          done={place}
          onGo={(id) => {
            dispatch(deskSlice.actions.sheetOpened(null));
            bouncing.cancel();
            void navigate(`/patch/${id}/layers`);
          }}
        />
      ) : (
        // No form: Enter takes what was typed in a field, and begins nothing.
        <div className="flex flex-col gap-3 text-[12.5px]">
          {place.kind === 'failed' && (
            <p role="alert" className="text-alarm">
              It could not be bounced: {place.problem}. Nothing of the rig has changed.
            </p>
          )}
          <label className="flex items-center gap-2">
            <span className="text-faint">What</span>
            <select
              className="field flex-1"
              value={valueOf(what)}
              onChange={(event) => setWhat(whatOf(event.target.value))}
            >
              <option value="patch">the whole patch “{patch.name}”</option>
              {patch.groups.map(({ id, name }) => (
                <option key={id} value={`group.${id}`}>
                  the group “{name}”
                </option>
              ))}
              {patch.layers.map(({ id, name }) => (
                <option key={id} value={`layer.${id}`}>
                  the layer “{name}”
                </option>
              ))}
              {patch.pools.map(({ id, name }) => (
                <option key={id} value={`pool.${id}`}>
                  what “{name}” gives back, alone
                </option>
              ))}
            </select>
          </label>
          <fieldset className="grid grid-cols-3 gap-2">
            {keyField('from', low, setLow, 0, high)}
            {keyField('to', high, setHigh, low, 127)}
            {numberField('every so many keys', every, setEvery, 1, 24)}
          </fieldset>
          <TypedField
            label="strikes"
            text={velocities.join(' ')}
            commit={(typed) => {
              const list = readList(typed, 1, 127);
              if (typeof list === 'string') return list;
              setVelocities(list);
              return undefined;
            }}
          />
          <fieldset className="grid grid-cols-2 gap-2">
            {numberField('held for, seconds', seconds, setSeconds, 0.05, 60, false)}
            {numberField('draws of each, taking turns', alternates, setAlternates, 1, 32)}
          </fieldset>
          <fieldset className="grid grid-cols-2 gap-x-4 gap-y-1">
            {flag('stereo', 'both sides', 'Off: summed to one')}
            {flag('loop', 'find loops', 'In what is held; sounds that die away get none')}
            {flag('effects', 'with effects', 'Of a rebuilt patch they stay effects', flags.rebuild)}
            {flag(
              'asItStands',
              'as hands have it now',
              'Macros, pads, wheel and pedals stay where they stand: an XY position becomes a sound',
            )}
            {flag(
              'rebuild',
              'rebuild the patch',
              'Each layer gets a sound of its own, in a copy of the patch with the same windows, controllers and routes; what a route moves stays live',
              what.kind === 'pool',
            )}
          </fieldset>
          <p className="text-faint">
            {problem
              ? `Nothing to bounce: ${problem}.`
              : `${count} strikes; each is recorded until its tail is 72 dB below its loudest moment, levels as they are. ${flags.rebuild ? 'Then a copy of the patch plays them, layer by layer.' : 'Then a new patch plays them as one sound.'}`}
          </p>
          <button
            className="button self-start"
            disabled={problem !== undefined || readOnly}
            onClick={() => void bouncing.bounce(rig, patch, settings)}
          >
            Bounce
          </button>
        </div>
      )}
    </SheetFrame>
  );
}

/** Where macros, dots and the usual controllers stand now. */
function asItStands(patch: Patch): Record<string, number> {
  const { controllers } = session.hands;
  const set: Record<string, number> = {};
  for (const { number } of patch.macros) set[`macro.${number}`] = session.liveOf(`macro.${number}`) ?? 0;
  for (const { number } of patch.xyPads)
    for (const axis of ['x', 'y']) set[`xy.${number}.${axis}`] = session.liveOf(`xy.${number}.${axis}`) ?? 0.5;
  for (const n of [1, 2, 4, 11]) set[`cc.${n}`] = controllers.cc[n];
  return set;
}

function Done({
  rig,
  done: { result, from },
  onGo,
}: {
  rig: Rig;
  done: Extract<typeof bouncing.place, { kind: 'done' }>;
  onGo: (patchId: string) => void;
}) {
  const [playing, setPlaying] = useState<'old' | 'new' | null>(null);
  const [key, setKey] = useState(60);
  const made = rig.patches.find(({ id }) => id === result.patchId);
  const hear = (which: 'old' | 'new') => {
    setPlaying(which);
    const changes = which === 'new' || checkState.trial !== null;
    showing.play(
      {
        strikes: [
          { key, velocity: 90 },
          { key: Math.min(127, key + 7), velocity: 110 },
        ],
      },
      changes ? 'changed' : 'now',
    );
    // The new patch stands in for the one in view for a moment, as loud as it is: levels were kept.
    checkState.set({
      trial:
        which === 'new' && made
          ? {
              patchId: from,
              key: `bounce ${result.patchId}`,
              rig: { ...rig, patches: rig.patches.map((patch) => (patch.id === from ? { ...made, id: from } : patch)) },
            }
          : null,
    });
  };
  if (!made)
    return (
      <p>
        It was taken back.{' '}
        <button className="underline" onClick={() => bouncing.cancel()}>
          Bounce again
        </button>
      </p>
    );
  return (
    <div className="flex flex-col gap-3 text-[12.5px]">
      <p role="status">
        <b>{made.name}</b> is there: {result.zones} zones{result.loops > 0 ? `, ${result.loops} with a loop` : ''}
        {result.silent > 0 ? `; ${result.silent} strikes were silent and left none` : ''}. {result.seconds.toFixed(0)} s
        of sound in {result.took.toFixed(1)} s.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <button className="button" aria-pressed={playing === 'old'} onClick={() => hear('old')}>
          ▶ the old one
        </button>
        <button className="button" aria-pressed={playing === 'new'} onClick={() => hear('new')}>
          ▶ the new one
        </button>
        <label className="flex items-center gap-1.5 text-faint">
          key <NumberBox value={key} low={0} high={120} className="w-16" onChange={setKey} />
        </label>
      </div>
      <p className="text-faint">Both play as loud as they are: the levels were kept. Undo takes the new one back.</p>
      <div className="flex gap-2">
        <button className="button" onClick={() => onGo(result.patchId)}>
          Go to it
        </button>
        <button className="button" onClick={() => bouncing.cancel()}>
          Bounce something else
        </button>
      </div>
    </div>
  );
}
