import { useRef, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { TEMPLATES } from '../../../core/rig/templates';
import type { Patch, Rig } from '../../../core/rig/schema';
import { droppedFiles } from '../../document/droppedFiles';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { deskSlice, type Sheet } from '../../hands/deskSlice';
import { bringInDropped } from '../../jobs/bringIn';
import { working } from '../../jobs/working';
import { comesAlong } from '../../jobs/comesAlong';
import { startPatch } from '../../jobs/starting';
import { SheetFrame } from '../../parts/Sheet';
import { LONGEST_NAME } from '../../../core/rig/limits';

const RECORDINGS = '.wav,.aif,.aiff,.flac,.mp3,.ogg,.m4a,audio/*';
const INSTRUMENTS = '.sf2,.sfz,.zip,.wav,.aif,.aiff,.flac';

/** Where a patch of one's own begins: named at once, empty or with something in it, in a rig of one's own or in this. */
export function StartSheet({ rig, patch }: { rig: Rig; patch: Patch }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const [name, setName] = useState('');
  const [ownRig, setOwnRig] = useState(comesAlong(rig) || readOnly);
  const [templateId, setTemplateId] = useState(TEMPLATES[0].id);
  const template = TEMPLATES.find(({ id }) => id === templateId)!;
  const cannot = readOnly && !ownRig;
  const begin = (view: 'layers' | 'sounds', by: { template?: typeof template }, then?: (sheet: Open) => unknown) =>
    void working('A new patch', async () => {
      const id = await startPatch(name, ownRig, { ...by, inView: patch });
      dispatch(deskSlice.actions.sheetOpened(null));
      await navigate(`/patch/${id}/${view}`);
      await then?.((sheet) => dispatch(deskSlice.actions.sheetOpened(sheet)));
    });
  return (
    <SheetFrame title="Start your own" wide>
      <label className="mb-2 flex items-center gap-2">
        <span className="w-32 shrink-0">Name of the patch</span>
        <input
          autoFocus
          maxLength={LONGEST_NAME}
          className="field min-w-0 flex-1 py-1!"
          placeholder="New patch"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter' && !cannot) begin('layers', {});
            if (event.key === 'Escape') dispatch(deskSlice.actions.sheetOpened(null));
          }}
        />
      </label>
      <div role="radiogroup" aria-label="Where it goes" className="mb-3 flex items-center gap-1.5">
        <span className="w-32 shrink-0">Where</span>
        {[true, false].map((own) => (
          <button
            key={String(own)}
            role="radio"
            aria-checked={ownRig === own}
            disabled={!own && readOnly}
            title={
              own
                ? 'A new rig beside the others, which stay as they are'
                : `One more patch of “${rig.name}”, at its end; it joins no setlist by itself`
            }
            className="button min-w-0 truncate aria-checked:bg-ink! aria-checked:text-paper!"
            onClick={() => setOwnRig(own)}
          >
            {own ? 'in a rig of my own' : `in “${rig.name}”`}
          </button>
        ))}
      </div>
      <ul>
        <Way says="Layers come as you add them.">
          <button className="button" disabled={cannot} onClick={() => begin('layers', {})}>
            Empty
          </button>
        </Way>
        <Way says={`${template.help} It plays sounds of “${rig.name}”, to be exchanged.`}>
          <button
            className="button"
            disabled={cannot || rig.sounds.length === 0}
            onClick={() => begin('layers', { template })}
          >
            By a template
          </button>
          <select
            className="field"
            aria-label="Template"
            title="What it begins with"
            value={templateId}
            onChange={(event) => setTemplateId(event.target.value)}
          >
            {TEMPLATES.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </Way>
        <Way says="Thirty patches and their sounds, heard first; the one you take has the name given above.">
          <button className="button" disabled={cannot} onClick={() => begin('layers', {}, (open) => open('store'))}>
            From the store …
          </button>
        </Way>
        <Way says="They are laid out on keys and velocities by their names and by ear; you look before they go in.">
          <Files
            label="My own recordings …"
            accept={RECORDINGS}
            disabled={cannot}
            onFiles={(files) => begin('sounds', {}, () => bringInDropped(files))}
          />
        </Way>
        <Way says="The .sf2, or the .sfz with its samples (choose them all, or a .zip of them).">
          <Files
            label="A SoundFont or SFZ …"
            accept={INSTRUMENTS}
            disabled={cannot}
            onFiles={(files) => begin('sounds', {}, () => bringInDropped(files))}
          />
        </Way>
      </ul>
    </SheetFrame>
  );
}
type Open = (sheet: Sheet) => void;

const Way = ({ says, children }: { says: string; children: ReactNode }) => (
  <li className="flex items-center gap-2 border-t border-line py-1.5">
    <span className="flex w-56 shrink-0 flex-wrap gap-1.5">{children}</span>
    <span className="min-w-0 flex-1 text-[12px] text-faint">{says}</span>
  </li>
);

interface FilesProps {
  label: string;
  accept: string;
  disabled: boolean;
  onFiles: (files: Awaited<ReturnType<typeof droppedFiles>>) => void;
}

function Files({ label, accept, disabled, onFiles }: FilesProps) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <>
      <button className="button" disabled={disabled} onClick={() => chooser.current?.click()}>
        {label}
      </button>
      <input
        ref={chooser}
        type="file"
        multiple
        accept={accept}
        className="hidden"
        tabIndex={-1}
        aria-label={`Files: ${label}`}
        onChange={(event) => {
          const { target } = event;
          void droppedFiles(event).then((files) => {
            target.value = '';
            if (files.length > 0) onFiles(files);
          });
        }}
      />
    </>
  );
}
