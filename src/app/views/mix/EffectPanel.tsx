import { useRef } from 'react';
import { effectKind } from '../../../core/effects';
import {
  applyPreset,
  deleteEffect,
  moveEffect,
  setEffectSteps,
  setOnFront,
  updateEffect,
} from '../../../core/rig/edits/mix';
import { effectParam } from '../../../core/rig/defaults';
import { nameOfPlace, placesIn, type PlaceId } from '../../../core/rig/mix';
import type { EffectSpec, Patch } from '../../../core/rig/schema';
import { ActMenu } from '../../parts/ActMenu';
import { Part, Row } from '../../parts/Part';
import { TargetStrip } from '../../parts/TargetStrip';
import { useStore } from '../../parts/useLive';
import { session } from '../../sound/session';
import { rigSlice } from '../../document/rigSlice';
import { editPatch, told, useAppDispatch, useAppSelector } from '../../document/store';
import { bringImpulse } from '../../jobs/impulses';
import { EffectPicture } from './EffectPicture';
import { EqualiserPicture } from './EqualiserPicture';
import { LevelSteps } from './LevelSteps';
import { Without } from './Without';

/** Of parameters that only mean something while another has a value: which those are. */
function hiddenIn(effect: EffectSpec): ReadonlySet<string> {
  const kind = effectKind(effect.kind);
  const hidden = new Set<string>();
  const value = (id: string) => effectParam(effect, id);
  const ids = Object.keys(kind.parameters);
  if (ids.includes('clock')) {
    const inNotes = value('clock') === 1;
    for (const id of ids)
      if (
        kind.parameters[id].unit === 'note'
          ? !inNotes
          : inNotes && (id === 'rate' || id === 'time' || id === 'timeRight')
      )
        hidden.add(id);
  }
  if (ids.includes('tuning'))
    for (const id of ['key', 'frequency']) if (value('tuning') === 1 && ids.includes(id)) hidden.add(id);
  if (effect.kind === 'equaliser') {
    for (let n = 1; n <= 8; n++) {
      const band = value(`kind${n}`);
      if (band === 0) for (const id of ['frequency', 'gain', 'q', 'slope']) hidden.add(`${id}${n}`);
      else if (band <= 2) hidden.add(`gain${n}`);
      else hidden.add(`slope${n}`);
    }
  }
  return hidden;
}

/** An effect in numbers: what it does now, its values, how it is heard. */
export function EffectPanel({ patch, effect, place }: { patch: Patch; effect: EffectSpec; place: PlaceId }) {
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const listening = useStore(session, (now) => now.ears.listening);
  const chooser = useRef<HTMLInputElement>(null);
  const kind = effectKind(effect.kind);
  const change = (edit: (old: Patch) => Patch, gesture?: string) => dispatch(editPatch(patch.id, edit, gesture));
  const hidden = hiddenIn(effect);
  const alone = listening?.kind === 'change' && listening.id === effect.id;
  const target = (id: string) => `${effect.kind}.${effect.id}.${id}`;
  const ids = Object.keys(kind.parameters).filter((id) => !hidden.has(id));
  const limit = kind.limits?.(
    Float64Array.from(Object.keys(kind.parameters), (id) => effectParam(effect, id)),
    patch.tempo,
  );
  const steps = kind.steps ? (effect.steps.length > 0 ? effect.steps : (kind.presets[0].steps ?? [])) : [];
  return (
    <>
      <h2 className="flex items-baseline gap-2">
        <span className="text-[15px] font-bold">{kind.label.charAt(0).toUpperCase() + kind.label.slice(1)}</span>
        <span className="min-w-0 truncate text-[12px] text-faint">
          on {place === 'main' ? 'main' : `the ${nameOfPlace(patch, place)} stretch`}
        </span>
      </h2>
      {effect.kind === 'equaliser' ? (
        <EqualiserPicture patch={patch} effect={effect} />
      ) : (
        <EffectPicture patch={patch} effect={effect} />
      )}
      <div className="flex flex-wrap items-center gap-1.5">
        <button
          className="button px-2! py-0.5!"
          aria-pressed={effect.on}
          title="Switches it without a click; its tail rings out"
          onClick={() => change((old) => updateEffect(old, effect.id, { on: !effect.on }))}
        >
          {effect.on ? 'on' : 'off'}
        </button>
        <ActMenu
          label="presets"
          className="px-2! py-0.5!"
          title="Values in words"
          items={kind.presets.map(({ name }) => [name, name] as const)}
          onChoose={(name) => change((old) => applyPreset(old, effect.id, name))}
        />
        <ActMenu
          label="take to"
          className="px-2! py-0.5!"
          title="Moves it to the end of another chain"
          items={placesIn(patch)
            .filter((other) => other !== place)
            .map((other) => [other, nameOfPlace(patch, other)] as const)}
          onChoose={(to) => change((old) => moveEffect(old, effect.id, to, Infinity))}
        />
      </div>
      <p className="text-[12px] text-faint">{kind.help}</p>
      {kind.steps && (
        <LevelSteps
          label="Levels"
          values={steps}
          most={kind.steps}
          onChange={(values, gesture) => change((old) => setEffectSteps(old, effect.id, values), gesture)}
          onEnd={() => dispatch(rigSlice.actions.gestureEnded())}
        />
      )}
      {kind.listens && (
        <Row label={kind.id === 'vocoder' ? 'plays' : 'listens to'}>
          <select
            className="field min-w-0"
            aria-label="Listens to"
            value={effect.listens ?? ''}
            onChange={(event) => change((old) => updateEffect(old, effect.id, { listens: event.target.value || null }))}
          >
            <option value="">what comes in</option>
            {patch.layers
              .filter(({ id }) => `layer.${id}` !== place)
              .map((layer) => (
                <option key={layer.id} value={layer.id}>
                  {layer.name}
                </option>
              ))}
          </select>
        </Row>
      )}
      {kind.impulse && (
        <Row label="recording">
          <span className="flex min-w-0 gap-1.5">
            <select
              className="field min-w-0 flex-1"
              aria-label="Recording"
              value={effect.sampleId ?? ''}
              onChange={(event) =>
                change((old) => updateEffect(old, effect.id, { sampleId: event.target.value || null }))
              }
            >
              <option value="">none</option>
              {rig.samples.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
            <button className="button px-2! py-0.5!" onClick={() => chooser.current?.click()}>
              bring …
            </button>
            <input
              ref={chooser}
              type="file"
              accept="audio/*,.wav,.flac,.aif,.aiff"
              className="hidden"
              aria-label="A recording to bring"
              tabIndex={-1}
              onChange={(event) => {
                const file = event.target.files?.[0];
                event.target.value = '';
                if (file) void bringImpulse(patch.id, effect.id, file);
              }}
            />
          </span>
        </Row>
      )}
      <Part title="What it does">
        {limit && (
          <p className="text-[12px] text-clay" role="status">
            At {patch.tempo} a minute it {limit}.
          </p>
        )}
        {ids.map((id) => (
          <div key={id} className="flex items-center gap-1">
            <div className="min-w-0 flex-1">
              <TargetStrip patch={patch} target={target(id)} colour="var(--clay)" />
            </div>
            <Front patch={patch} target={target(id)} />
          </div>
        ))}
      </Part>
      <Part title="Heard">
        <Without ids={[effect.id]} patch={patch} label="without" />
        <button
          className="button self-start px-2! py-0.5!"
          aria-pressed={alone}
          title="Only the difference that it makes is heard"
          onClick={() => session.ears.listenTo(alone ? null : { kind: 'change', id: effect.id })}
        >
          what it changes
        </button>
      </Part>
      <button
        className="button self-start"
        onClick={() => {
          change((old) => deleteEffect(old, effect.id));
          dispatch(told(`The ${kind.label} is gone.`));
        }}
      >
        Delete this effect
      </button>
    </>
  );
}

/** Puts the strip of a value on the front of the patch. */
export function Front({ patch, target }: { patch: Patch; target: string }) {
  const dispatch = useAppDispatch();
  const there = patch.front.includes(target);
  return (
    <button
      className={`h-[22px] w-[22px] shrink-0 rounded text-[13px] leading-none ${there ? 'text-clay' : 'text-edge opacity-50 hover:opacity-100 focus-visible:opacity-100'}`}
      aria-label="On the front"
      aria-pressed={there}
      title={
        there
          ? 'Its strip stands on the front of the patch: take it away'
          : 'Put its strip on the front of the patch, beside the macros'
      }
      onClick={() => dispatch(editPatch(patch.id, (old) => setOnFront(old, target, !there)))}
    >
      {there ? '★' : '☆'}
    </button>
  );
}
