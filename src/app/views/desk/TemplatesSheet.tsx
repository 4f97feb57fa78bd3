import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { paste } from '../../../core/rig/edits/carry';
import { clipOf } from '../../../core/rig/edits/clip';
import { newPatch } from '../../../core/rig/defaults';
import { withPatch } from '../../../core/rig/edits/patches';
import { patchBy, TEMPLATES } from '../../../core/rig/templates';
import type { Patch } from '../../../core/rig/schema';
import { chosenLayers, rigOfClip } from '../../hands/clipboard';
import { exportChain, exportRigAs, exportSection, readPartFile } from '../../jobs/files';
import { deletePart, keepPart, listParts, type KeptPart } from '../../document/storage/database';
import { edit, newId, notice, useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice } from '../../hands/deskSlice';
import { SheetFrame } from '../../parts/Sheet';

const KINDS = {
  patch: 'patch',
  group: 'group',
  layer: 'layer',
  sound: 'sound',
  section: 'values of a layer',
  chain: 'chain of effects',
} as const;
const NOT_KEPT = notice('problem', 'This browser did not keep it: its storage is closed or full.', 'kept');

/** Patches to begin with, and whatever was kept to be used again. */
export function TemplatesSheet({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const rig = useAppSelector((state) => state.rig.rig)!;
  const [kept, setKept] = useState<KeptPart[]>([]);
  const chooser = useRef<HTMLInputElement>(null);
  const load = () => void listParts().then(setKept, () => setKept([]));
  useEffect(load, []);
  const done = () => dispatch(deskSlice.actions.sheetOpened(null));
  const keep = (kind: 'patch' | 'group' | 'layer', ids: readonly string[], name: string) =>
    void keepPart({ id: newId(), name, kind, at: Date.now(), clip: clipOf(rig, patch, ids, name) }).then(load, () =>
      dispatch(NOT_KEPT),
    );
  const chosen = chosenLayers(patch);
  const use = (part: KeptPart) => {
    if (!part.clip) return;
    const id = newId();
    const target = part.kind === 'patch' ? id : patch.id;
    const base = part.kind === 'patch' ? withPatch(rig, newPatch(id, part.name)) : rig;
    const { rig: made, problem } = paste(base, target, part.clip, newId);
    if (problem) dispatch(notice('problem', `“${part.name}” cannot be used here: ${problem}.`, 'kept'));
    else {
      dispatch(edit(() => made));
      if (part.kind === 'patch') void navigate(`/patch/${id}/layers`);
      done();
    }
  };
  return (
    <SheetFrame title="Templates" wide>
      <h3 className="heading mb-1">A new patch</h3>
      <ul className="mb-3 grid grid-cols-2 gap-1.5">
        {TEMPLATES.map((template) => (
          <li key={template.id}>
            <button
              className="button h-full w-full flex-col items-start! gap-0! py-1! text-left whitespace-normal!"
              disabled={rig.sounds.length === 0}
              onClick={() => {
                const id = newId();
                // Sounds that the patch in view plays come first: one goes on from where one is.
                const sounds = [...rig.sounds].sort(
                  (a, b) =>
                    Number(patch.layers.some((layer) => layer.soundId === b.id)) -
                    Number(patch.layers.some((layer) => layer.soundId === a.id)),
                );
                const made = patchBy(template, id, sounds, newId);
                if (!made) return;
                dispatch(edit((old) => withPatch(old, made)));
                void navigate(`/patch/${id}/layers`);
                done();
              }}
            >
              <b>{template.name}</b>
              <span className="text-[11.5px] text-faint">{template.help}</span>
            </button>
          </li>
        ))}
      </ul>
      <button className="button mb-3" onClick={() => dispatch(deskSlice.actions.sheetOpened('store'))}>
        Something from the store: thirty patches, heard first …
      </button>
      <div className="mb-1 flex items-center gap-1.5">
        <h3 className="heading flex-1">Kept in this browser</h3>
        <button
          className="button px-2! py-0! text-[12px]"
          onClick={() =>
            keep(
              'patch',
              patch.layers.map(({ id }) => id),
              patch.name,
            )
          }
        >
          keep this patch
        </button>
        <button
          className="button px-2! py-0! text-[12px]"
          disabled={chosen.ids.length === 0}
          title={`Keeps “${chosen.name}” with all that moves it`}
          onClick={() => keep(chosen.kind, chosen.ids, chosen.name)}
        >
          keep “{chosen.name.slice(0, 16)}”
        </button>
        <button className="button px-2! py-0! text-[12px]" onClick={() => chooser.current?.click()}>
          open a file …
        </button>
        <input
          ref={chooser}
          type="file"
          accept=".wavicle,.json"
          className="hidden"
          aria-label="File of a template"
          tabIndex={-1}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file)
              void readPartFile(file)
                .then((part) => part && keepPart({ ...part, id: newId(), at: Date.now() }))
                .then(load, () => dispatch(NOT_KEPT));
          }}
        />
      </div>
      <ul className="text-[12.5px]">
        {kept.map((part) => (
          <li key={part.id} className="flex items-center gap-1.5 border-t border-line py-0.5">
            <span dir="auto" className="min-w-0 flex-1 truncate">
              {part.name}
            </span>
            <span className="text-[11.5px] text-faint">
              {KINDS[part.kind]}
              {part.part ? `: ${part.part}` : ''}
            </span>
            {part.clip && (
              <button className="button px-2! py-0! text-[12px]" onClick={() => use(part)}>
                {part.kind === 'patch' ? 'new patch' : part.kind === 'sound' ? 'into this rig' : 'into this patch'}
              </button>
            )}
            <button
              className="button px-2! py-0! text-[12px]"
              onClick={() => {
                if (part.clip) void exportRigAs(rigOfClip(part.clip));
                else if (part.chain) exportChain(part.name, part.chain);
                else exportSection({ name: part.name, part: part.part ?? '', section: part.section ?? {} });
              }}
            >
              as a file
            </button>
            <button
              className="button-bare"
              aria-label={`Forget ${part.name}`}
              onClick={() => void deletePart(part.id).then(load)}
            >
              ×
            </button>
          </li>
        ))}
        {kept.length === 0 && (
          <li className="text-faint">Nothing yet. Sections are kept from the part of a layer that they belong to.</li>
        )}
      </ul>
    </SheetFrame>
  );
}
