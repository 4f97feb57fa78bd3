import { hasZones } from '../../../core/rig/parameters';
import { DropdownMenu } from 'radix-ui';
import { EllipsisVertical } from 'lucide-react';
import { addInput, addSynth, setKind } from '../../../core/rig/edits/kinds';
import { addLayerOf } from '../../../core/rig/edits/layers';
import {
  addSound,
  deleteSound,
  duplicateSound,
  renameSound,
  updateSound,
  usersOf,
} from '../../../core/rig/edits/zones';
import { heldName } from '../../../core/rig/names';
import { ActMenu } from '../../parts/ActMenu';
import type { Patch, Rig, Sound } from '../../../core/rig/schema';
import { carry } from '../../document/carrying';
import { Mark } from '../../parts/Mark';
import { throughList } from '../../parts/throughList';
import { NameField, useRenaming } from '../../parts/NameField';
import { clipOfSound } from '../../../core/rig/edits/clip';
import { keepPart } from '../../document/storage/database';
import { edit, editPatch, newId, notice, told, useAppDispatch, useAppSelector } from '../../document/store';

/** The sounds of the rig, and which of them the patch plays. */
export function SoundList({
  rig,
  patch,
  sound,
  onOpen,
}: {
  rig: Rig;
  patch: Patch;
  sound: Sound | undefined;
  onOpen: (soundId: string) => void;
}) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const add = (what: string) => {
    const id = newId();
    if (what === 'synth') dispatch(edit((old) => addSynth(old, id, 'New synth')));
    else if (what === 'input') dispatch(edit((old) => addInput(old, id, 'Input')));
    else if (what === 'grains' && sound)
      dispatch(
        edit((old) =>
          updateSound(duplicateSound(old, sound.id, id), id, (copy) => ({
            ...setKind(copy, 'grains'),
            name: heldName(`${sound.name} in grains`),
          })),
        ),
      );
    else dispatch(edit((old) => addSound(old, id, 'New sound')));
    onOpen(id);
  };
  const kinds: [string, string][] = [
    ['synth', 'a synth: oscillators'],
    ['samples', 'samples: an empty map'],
    ['input', 'an input: a voice, a line'],
  ];
  if (sound && hasZones(sound.kind) && sound.zones.length > 0) kinds.push(['grains', `grains of “${sound.name}”`]);
  return (
    <section aria-label="Sounds of the rig" className="flex min-h-[104px] flex-1 flex-col gap-1">
      <div className="flex items-center justify-between">
        <h2 className="heading">Sounds of the rig</h2>
        <ActMenu
          label="+ new"
          title="A new sound"
          className="px-2! py-0!"
          items={kinds}
          disabled={readOnly}
          onChoose={add}
        />
      </div>
      <ul className="min-h-0 flex-1 overflow-y-auto [scrollbar-width:thin]" onKeyDown={throughList}>
        {rig.sounds.map((each) => (
          <Entry key={each.id} rig={rig} patch={patch} sound={each} current={each === sound} onOpen={onOpen} />
        ))}
      </ul>
    </section>
  );
}

/** What is open is seen in its list. */
const inView = (element: HTMLElement | null) => {
  element?.scrollIntoView({ block: 'nearest' });
};

function Entry({
  rig,
  patch,
  sound,
  current,
  onOpen,
}: {
  rig: Rig;
  patch: Patch;
  sound: Sound;
  current: boolean;
  onOpen: (soundId: string) => void;
}) {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const renaming = useRenaming();
  const layer = patch.layers.find((candidate) => candidate.soundId === sound.id);
  const users = usersOf(rig, sound.id).length;
  const rename = (name: string) => dispatch(edit((old) => renameSound(old, sound.id, name)));
  return (
    <li className={`flex items-center gap-1 rounded-md pl-2 ${current ? 'bg-ink text-paper' : 'hover:bg-ink/7'}`}>
      {renaming.renaming ? (
        <NameField
          label="Name of the sound"
          name={sound.name}
          className="my-1 min-w-0 flex-1 text-ink"
          onName={rename}
          onEnd={renaming.end}
        />
      ) : (
        <button
          data-item
          draggable
          title="Drag it into a zone of the map"
          onDragStart={(event) =>
            carry(event, {
              name: sound.name,
              sound,
              samples: rig.samples.filter(({ id }) => sound.zones.some((zone) => zone.sampleId === id)),
            })
          }
          ref={current ? inView : undefined}
          tabIndex={current ? 0 : -1}
          className="flex min-w-0 flex-1 items-center gap-2 py-1.5 text-left"
          aria-current={current ? 'true' : undefined}
          onClick={() => onOpen(sound.id)}
          onDoubleClick={renaming.begin}
        >
          <span className="w-3.5 shrink-0">{layer && <Mark mark={layer.mark} />}</span>
          <span dir="auto" className="min-w-0 flex-1 truncate">
            {sound.name}
          </span>
          <span className={`number text-[11px] ${current ? '' : 'text-faint'}`}>
            {sound.kind === 'multisample' ? sound.zones.length : sound.kind}
          </span>
        </button>
      )}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          disabled={readOnly}
          tabIndex={current ? 0 : -1}
          className="button-bare"
          aria-label={`More for ${sound.name}`}
        >
          <EllipsisVertical size={14} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="start"
            className="panel min-w-52 p-1.5!"
            onCloseAutoFocus={renaming.onCloseAutoFocus}
          >
            <DropdownMenu.Item className="menu-item" onSelect={renaming.beginAfterMenu}>
              Rename …
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => {
                const id = newId();
                dispatch(edit((old) => duplicateSound(old, sound.id, id)));
                onOpen(id);
              }}
            >
              Duplicate
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() =>
                void keepPart({
                  id: newId(),
                  name: sound.name,
                  kind: 'sound',
                  at: Date.now(),
                  clip: clipOfSound(rig, sound),
                }).then(
                  () =>
                    dispatch(
                      notice('info', `“${sound.name}” is kept: it can come into any rig from the templates.`, 'kept'),
                    ),
                  () => dispatch(notice('problem', 'This browser did not keep it.', 'kept')),
                )
              }
            >
              Keep for other rigs
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              disabled={!!layer}
              onSelect={() => dispatch(editPatch(patch.id, (old) => addLayerOf(old, newId(), sound)))}
            >
              {layer ? 'Is a layer of this patch' : 'Add to this patch as a layer'}
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => {
                dispatch(edit((old) => deleteSound(old, sound.id)));
                dispatch(
                  told(
                    `The sound “${sound.name}” is gone${users > 0 ? `, with its layers in ${users} ${users === 1 ? 'patch' : 'patches'}` : ''}.`,
                  ),
                );
              }}
            >
              Delete{users > 0 ? `, with its layers in ${users} ${users === 1 ? 'patch' : 'patches'}` : ''}
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </li>
  );
}
