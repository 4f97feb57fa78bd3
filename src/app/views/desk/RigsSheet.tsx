import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { addDemo, addStore, exportRaw, exportRig, importFile } from '../../jobs/files';
import { working } from '../../jobs/working';
import {
  addEmptyRig,
  duplicateRig,
  forgetRig,
  goBackTo,
  openKept,
  openSalvaged,
  renameRig,
  unreadableDealtWith,
} from '../../document/rigs';
import { rigFile } from '../../jobs/rigFile';
import { useStore } from '../../parts/useLive';
import { notice, useAppDispatch, useAppSelector } from '../../document/store';
import {
  deleteState,
  keepState,
  listRigs,
  listStates,
  spaceHere,
  type RigEntry,
} from '../../document/storage/database';
import type { Kept } from '../../document/storage/earlierStates';
import { NameField, useRenaming } from '../../parts/NameField';
import { SheetFrame } from '../../parts/Sheet';

const when = (at: number): string =>
  new Date(at).toLocaleString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });

/** The rigs side by side in this browser, and earlier states of the one in view. */
export function RigsSheet() {
  const rig = useAppSelector((state) => state.rig.rig);
  const unreadable = useAppSelector((state) => state.told.unreadable);
  const [rigs, setRigs] = useState<RigEntry[]>([]);
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const chooser = useRef<HTMLInputElement>(null);
  const file = useStore(rigFile, (now) => now.kept);
  const read = useCallback(() => {
    listRigs().then(setRigs, () => setRigs([]));
  }, []);
  useEffect(read, [read, rig]);
  /** Does something with the kept rigs, tells what goes wrong, and reads the list again. */
  const act = async (what: string, task: () => Promise<unknown>, opens = false) => {
    const good = await working(what, async () => {
      await task();
    });
    if (good && opens) void navigate('/');
    read();
  };
  return (
    <SheetFrame title="Rigs in this browser" wide>
      {unreadable && (
        <section aria-label="A rig that cannot be opened" className="mb-3 rounded-md border border-alarm p-2.5">
          <p>
            <b className="text-alarm">One rig cannot be opened.</b> {unreadable.problem}. It is kept as it is, and
            nothing writes over it.
          </p>
          <div className="mt-1.5 flex flex-wrap gap-1.5">
            <button
              className="button"
              onClick={() =>
                void act(
                  'Rescue',
                  async () => {
                    const mended = await openSalvaged(unreadable.rigId);
                    dispatch(
                      notice(
                        'info',
                        `What can be read of it is open as a copy; ${mended.length === 0 ? 'nothing had to be mended' : `${mended.length} ${mended.length === 1 ? 'thing was' : 'things were'} mended or left out, the first: ${mended[0]}`}.`,
                      ),
                    );
                  },
                  true,
                )
              }
            >
              Open what can be read, as a copy
            </button>
            <button className="button" onClick={() => void exportRaw(unreadable.rigId)}>
              Export it as it is
            </button>
            <button className="button" onClick={unreadableDealtWith}>
              I know
            </button>
          </div>
        </section>
      )}
      <ul aria-label="Rigs" className="flex flex-col">
        {rigs.map((entry) => (
          <RigRow key={entry.id} entry={entry} current={entry.id === rig?.id} act={act} />
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap gap-1.5">
        <button className="button" onClick={() => void act('New rig', addEmptyRig, true)}>
          Empty rig
        </button>
        <button
          className="button"
          onClick={() =>
            void addDemo().then((good) => {
              if (good) void navigate('/');
              read();
            })
          }
        >
          The demo rig as one more
        </button>
        <button
          className="button"
          onClick={() =>
            void addStore().then((good) => {
              if (good) void navigate('/');
              read();
            })
          }
        >
          Harbour Store as one more
        </button>
        <button className="button" onClick={() => chooser.current?.click()}>
          Open a file …
        </button>
        <button className="button" onClick={() => void exportRig()}>
          Export the rig in view
        </button>
        <button className="button" title="Ctrl S; with Shift to another file" onClick={() => void rigFile.save()}>
          Save to {file ? `“${file.name}”` : 'a file …'}
        </button>
        <input
          ref={chooser}
          type="file"
          accept=".wavicle,.zip"
          className="hidden"
          aria-label="Rig to open"
          tabIndex={-1}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file)
              void importFile(file).then((good) => {
                if (good) void navigate('/');
                read();
              });
          }}
        />
      </div>
      <Space />
      {rig && <EarlierStates rigId={rig.id} />}
    </SheetFrame>
  );
}

const size = (bytes: number): string =>
  bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${Math.max(1, Math.round(bytes / 1e6))} MB`;

/** How much this browser holds, and whether it has promised to keep it. */
function Space() {
  const [space, setSpace] = useState<Awaited<ReturnType<typeof spaceHere>>>(null);
  useEffect(() => {
    spaceHere().then(setSpace, () => undefined);
  }, []);
  if (!space) return null;
  return (
    <p className="mt-2 text-[12px] text-faint" data-testid="space">
      {size(space.used)} used, {size(Math.max(0, space.room - space.used))} free.{' '}
      {space.forGood
        ? 'The browser keeps it for good.'
        : 'The browser may throw it away when its disk is full: save rigs to files.'}
    </p>
  );
}

function RigRow({
  entry,
  current,
  act,
}: {
  entry: RigEntry;
  current: boolean;
  act: (what: string, task: () => Promise<unknown>, opens?: boolean) => Promise<void>;
}) {
  const renaming = useRenaming();
  const [asking, setAsking] = useState(false);
  const { id, name, patches, savedAt } = entry;
  return (
    <li
      className={`flex flex-wrap items-center gap-1.5 border-b border-line py-1.5 ${current ? 'font-semibold' : ''}`}
      aria-current={current ? 'true' : undefined}
    >
      {renaming.renaming ? (
        <NameField
          label="Name of the rig"
          name={name}
          className="min-w-0 flex-1"
          onName={(wanted) => void act('Naming', () => renameRig(id, wanted))}
          onEnd={renaming.end}
        />
      ) : (
        <span dir="auto" className="min-w-0 flex-1 truncate" title={name}>
          {name}
          {current && <span className="font-normal text-faint"> · in view</span>}
        </span>
      )}
      <span className="number text-[11px] font-normal text-faint">
        {patches} {patches === 1 ? 'patch' : 'patches'}, {when(savedAt)}
      </span>
      <span className="flex gap-1 font-normal">
        {!current && (
          <button
            className="button px-2! py-0!"
            onClick={() => void act(`Opening “${name}”`, () => openKept(id), true)}
          >
            open
          </button>
        )}
        {!current && (
          <button className="button px-2! py-0!" onClick={renaming.begin}>
            name
          </button>
        )}
        <button className="button px-2! py-0!" onClick={() => void act('Copying', () => duplicateRig(id))}>
          duplicate
        </button>
        {!current && (
          <button className="button px-2! py-0!" onClick={() => setAsking(true)}>
            delete
          </button>
        )}
      </span>
      {asking && (
        <span
          role="alertdialog"
          aria-label={`Delete ${name}?`}
          className="flex w-full items-center gap-1.5 font-normal"
        >
          <span className="flex-1 text-alarm">Delete “{name}” with its earlier states? There is no way back.</span>
          <button className="button px-2! py-0!" autoFocus onClick={() => setAsking(false)}>
            keep it
          </button>
          <button
            className="button border-alarm! px-2! py-0! text-alarm"
            onClick={() => void act('Deleting', () => forgetRig(id))}
          >
            delete it for good
          </button>
        </span>
      )}
    </li>
  );
}

function EarlierStates({ rigId }: { rigId: string }) {
  const rig = useAppSelector((state) => state.rig.rig)!;
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const dispatch = useAppDispatch();
  const [states, setStates] = useState<Kept[]>([]);
  const [name, setName] = useState('');
  const read = useCallback(() => {
    listStates(rigId).then(setStates, () => setStates([]));
  }, [rigId]);
  useEffect(read, [read, rig]);
  const keep = async () => {
    if (await working('Keeping this state', () => keepState(rig, name.trim().slice(0, 200) || when(Date.now()))))
      setName('');
    read();
  };
  return (
    <section aria-label="Earlier states" className="mt-4">
      <h3 className="heading mb-1">Earlier states of this rig</h3>
      <form
        className="mb-1.5 flex gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <input
          className="field min-w-0 flex-1"
          aria-label="Keep this state as"
          placeholder="keep this state as …"
          maxLength={200}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button className="button" type="submit">
          Keep
        </button>
      </form>
      {states.length === 0 && (
        <p className="text-[12px] text-faint">
          None yet. While you edit, some of the last hour are kept, some of the last day and one a day for a week; those
          you name stay.
        </p>
      )}
      <ul aria-label="States" className="max-h-52 overflow-y-auto">
        {states.map((state) => (
          <li key={state.id} className="flex items-center gap-1.5 border-b border-line py-1">
            <span dir="auto" className="min-w-0 flex-1 truncate">
              {state.name ?? <span className="text-faint">{when(state.at)}</span>}
              {state.name && <span className="text-[11px] text-faint"> · {when(state.at)}</span>}
            </span>
            <button
              className="button px-2! py-0!"
              disabled={readOnly}
              onClick={() =>
                void working('Going back', () => goBackTo(state.id)).then((good) => {
                  if (good) dispatch(notice('info', 'The rig is as it was then. Control Z brings the present back.'));
                })
              }
            >
              go back to it
            </button>
            {state.name !== null && (
              <button
                className="button px-2! py-0!"
                onClick={() => void working('Forgetting', () => deleteState(state.id)).then(read)}
              >
                forget
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
