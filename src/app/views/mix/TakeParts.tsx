import { NumberBox } from '../../parts/NumberBox';
import { useRef } from 'react';
import {
  addPart,
  addBacking,
  deleteBacking,
  deletePart,
  newPart,
  updateBacking,
  updatePart,
} from '../../../core/rig/edits/takes';
import { addSamples } from '../../../core/rig/edits/zones';
import { updatePatch } from '../../../core/rig/edits/layers';
import { CONNECTION_PARAMETERS } from '../../../core/rig/parameters';
import type { Part, Patch, PatchTake } from '../../../core/rig/schema';
import { ActMenu } from '../../parts/ActMenu';
import { Strip } from '../../parts/Strip';
import { rigSlice } from '../../document/rigSlice';
import { edit, editPatch, newId, notice, store, told, useAppDispatch, useAppSelector } from '../../document/store';
import { lookAt } from '../../jobs/tray';

const LEVEL = CONNECTION_PARAMETERS.level;

/** Who plays what of a take, and the recordings that play along. */
export function TakeParts({
  patch,
  take,
  partId,
  onPart,
}: {
  patch: Patch;
  take: PatchTake;
  partId: string;
  onPart: (id: string) => void;
}) {
  const dispatch = useAppDispatch();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const { pairs } = rig;
  const chooser = useRef<HTMLInputElement>(null);
  const change = (act: (old: Patch) => Patch, gesture?: string) => dispatch(editPatch(patch.id, act, gesture));
  const end = () => dispatch(rigSlice.actions.gestureEnded());
  const choices: [string, string][] = [
    ['patch', `this patch: ${patch.name}`],
    ...patch.groups.map((group): [string, string] => [`group.${group.id}`, `group ${group.name}`]),
    ...patch.layers
      .filter(({ path }) => path.scale.on || path.chord.on || path.arpeggio.on)
      .map((layer): [string, string] => [`notes.${layer.id}`, `layer ${layer.name}, notes as they are`]),
    ...patch.layers.map((layer): [string, string] => [`layer.${layer.id}`, `layer ${layer.name}`]),
    ...rig.patches
      .filter(({ id }) => id !== patch.id)
      .map((other): [string, string] => [`patch.${other.id}`, `patch ${other.name}`]),
  ];
  const nameOf = (plays: string) => choices.find(([id]) => id === plays)?.[1] ?? 'a patch that is gone';
  const add = (plays: string) => {
    const id = newId();
    change((old) => addPart(old, take.id, newPart(id, nameOf(plays).replace(/^[a-z ]+:? /, ''), plays)));
    onPart(id);
  };
  const bring = async (file: File) => {
    try {
      const { sample } = await lookAt(file.name, file);
      store.dispatch(
        edit((old) =>
          updatePatch(addSamples(old, [sample]), patch.id, (each) =>
            addBacking(each, {
              id: newId(),
              name: file.name.replace(/\.[^.]*$/, ''),
              sampleId: sample.id,
              on: true,
              level: -9,
              tempo: each.tempo,
              start: 0,
              loop: true,
              pair: null,
            }),
          ),
        ),
      );
    } catch (error) {
      dispatch(
        notice(
          'problem',
          `“${file.name}” was not brought in: ${error instanceof Error ? error.message : String(error)}.`,
        ),
      );
    }
  };
  return (
    <section
      aria-label="Parts and backing"
      className="flex min-h-0 flex-col gap-2 overflow-y-auto border-r border-line p-2.5 text-[13px] [scrollbar-width:thin]"
    >
      <h2 className="heading">Parts</h2>
      <ul className="flex flex-col gap-1.5">
        {take.parts.map((part) => (
          <li
            key={part.id}
            className={`rounded-md border p-1.5 ${part.id === partId ? 'border-ink shadow-[inset_0_0_0_1px_var(--ink)]' : 'border-edge'}`}
          >
            <div className="flex items-center gap-1">
              <button
                dir="auto"
                className="min-w-0 flex-1 truncate text-left font-semibold"
                aria-pressed={part.id === partId}
                onClick={() => onPart(part.id)}
              >
                {part.name}
              </button>
              <span className="number text-[11.5px] text-faint">{part.notes.length}</span>
              <button
                className="button px-1.5! py-0! text-[11.5px]"
                aria-label={`Mute ${part.name}`}
                aria-pressed={!part.on}
                onClick={() =>
                  change((old) => updatePart(old, take.id, part.id, (each) => ({ ...each, on: !each.on })))
                }
              >
                m
              </button>
              <button
                className="button-bare h-5! min-w-5!"
                aria-label={`Delete ${part.name}`}
                onClick={() => {
                  change((old) => deletePart(old, take.id, part.id));
                  dispatch(told(`The part “${part.name}” is gone.`));
                }}
              >
                ×
              </button>
            </div>
            <select
              className="field mt-1 w-full"
              aria-label={`${part.name} plays`}
              value={part.plays}
              onChange={(event) =>
                change((old) =>
                  updatePart(old, take.id, part.id, (each): Part => ({ ...each, plays: event.target.value })),
                )
              }
            >
              {choices.map(([id, words]) => (
                <option key={id} value={id}>
                  {words}
                </option>
              ))}
            </select>
            {part.plays !== 'patch' && (
              <div className="mt-1">
                <Strip
                  parameter={LEVEL}
                  label="level"
                  value={part.level}
                  onEnd={end}
                  onChange={(level, gesture) =>
                    change((old) => updatePart(old, take.id, part.id, (each) => ({ ...each, level })), gesture)
                  }
                />
              </div>
            )}
          </li>
        ))}
      </ul>
      <ActMenu
        label="+ part"
        className="self-start"
        title="Another part: of this patch, a layer, a group, or another patch such as bass or drums"
        items={choices}
        onChoose={add}
      />
      <h2 className="heading mt-1">Backing</h2>
      {patch.backing.length === 0 && (
        <p className="text-[12px] text-faint">Recordings that play along, in time: a loop, a band.</p>
      )}
      <ul className="flex flex-col gap-1.5">
        {patch.backing.map((backing) => (
          <li key={backing.id} className="flex flex-col gap-1 rounded-md border border-edge p-1.5">
            <div className="flex items-center gap-1">
              <span dir="auto" className="min-w-0 flex-1 truncate font-semibold">
                {backing.name}
              </span>
              <button
                className="button px-1.5! py-0! text-[11.5px]"
                aria-label={`Mute ${backing.name}`}
                aria-pressed={!backing.on}
                onClick={() => change((old) => updateBacking(old, backing.id, { on: !backing.on }))}
              >
                m
              </button>
              <button
                className="button px-1.5! py-0! text-[11.5px]"
                aria-label={`Loop ${backing.name}`}
                aria-pressed={backing.loop}
                onClick={() => change((old) => updateBacking(old, backing.id, { loop: !backing.loop }))}
              >
                loop
              </button>
              <button
                className="button-bare h-5! min-w-5!"
                aria-label={`Delete ${backing.name}`}
                onClick={() => {
                  change((old) => deleteBacking(old, backing.id));
                  dispatch(told(`The recording “${backing.name}” is gone.`));
                }}
              >
                ×
              </button>
            </div>
            <Strip
              parameter={LEVEL}
              label="level"
              value={backing.level}
              onEnd={end}
              onChange={(level, gesture) => change((old) => updateBacking(old, backing.id, { level }), gesture)}
            />
            <label className="flex items-center justify-between text-[12px] text-faint">
              tempo of it
              <NumberBox
                value={backing.tempo}
                low={20}
                high={400}
                onChange={(tempo) => change((old) => updateBacking(old, backing.id, { tempo }))}
              />
            </label>
            <label className="flex items-center justify-between text-[12px] text-faint">
              begins at beat
              <NumberBox
                value={backing.start + 1}
                low={1}
                high={4097}
                onChange={(beat) => change((old) => updateBacking(old, backing.id, { start: beat - 1 }))}
              />
            </label>
            {pairs.length > 1 && (
              <label className="flex items-center justify-between text-[12px] text-faint">
                goes to
                <select
                  className="field"
                  value={backing.pair ?? ''}
                  onChange={(event) =>
                    change((old) => updateBacking(old, backing.id, { pair: event.target.value || null }))
                  }
                >
                  {pairs.map(({ id, name }, n) => (
                    <option key={id} value={n === 0 ? '' : id}>
                      {name}
                    </option>
                  ))}
                </select>
              </label>
            )}
          </li>
        ))}
      </ul>
      <button className="button self-start" onClick={() => chooser.current?.click()}>
        Bring a recording …
      </button>
      <input
        ref={chooser}
        type="file"
        accept="audio/*,.wav,.flac,.aif,.aiff"
        className="hidden"
        aria-label="A recording to play along"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void bring(file);
        }}
      />
    </section>
  );
}
