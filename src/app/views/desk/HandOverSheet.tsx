import { useRef, useState } from 'react';
import { nameOfKey } from '../../../core/music/noteNames';
import type { TakeFormat } from '../../../core/formats/takeFiles';
import type { Patch, Rig } from '../../../core/rig/schema';
import { exportPatchFiles, exportRig, exportTake } from '../../jobs/files';
import {
  exportUsed,
  readOther,
  takeIn,
  takesOfSetlist,
  takeToWrite,
  takeWriting,
  type OtherRig,
} from '../../jobs/handingOver';
import { session } from '../../sound/session';
import { notice, useAppDispatch, useAppSelector } from '../../document/store';
import { PrintedPatch } from './PrintedPatch';
import { SheetFrame } from '../../parts/Sheet';
import { useRefresh } from '../../parts/useLive';

/** Everything that goes out and comes in as files of open formats. */
export function HandOverSheet({ rig, patch }: { rig: Rig; patch: Patch }) {
  const middleC = useAppSelector((state) => state.settings.middleC);
  return (
    <SheetFrame title="Hand over" wide>
      <div className="flex flex-col gap-4 text-[12.5px]">
        <Takes rig={rig} patch={patch} />
        <section aria-labelledby="hand-page">
          <h3 className="heading mb-1" id="hand-page">
            A page of this patch
          </h3>
          <p className="mb-1.5 text-faint">
            Its layers on a keyboard from {nameOfKey(rig.controllers.keyLow, middleC)}, macros, controllers and notes,
            for paper or as a PDF.
          </p>
          <button className="button" onClick={() => window.print()}>
            Print “{patch.name}” …
          </button>
          <PrintedPatch rig={rig} patch={patch} />
        </section>
        <section aria-labelledby="hand-sound">
          <h3 className="heading mb-1" id="hand-sound">
            This patch as one instrument
          </h3>
          <p className="mb-1.5 text-faint">
            Layers become zones: windows, levels, envelopes and filters go along; effects, routes and movers do not, and
            are listed. With them, bounce it first.
          </p>
          <div className="flex flex-wrap gap-1.5">
            <button className="button" onClick={() => void exportPatchFiles(rig, patch, 'sfz')}>
              As SFZ (zip)
            </button>
            <button className="button" onClick={() => void exportPatchFiles(rig, patch, 'sf2')}>
              As SoundFont 2
            </button>
          </div>
        </section>
        <section aria-labelledby="hand-rig">
          <h3 className="heading mb-1" id="hand-rig">
            The rig as one file
          </h3>
          <div className="flex flex-wrap gap-1.5">
            <button className="button" onClick={() => void exportRig()}>
              With everything
            </button>
            <button
              className="button"
              title="Without sounds and recordings that no patch plays"
              onClick={() => void exportUsed(rig)}
            >
              With only what is used
            </button>
          </div>
        </section>
        <Merging />
        <p className="text-faint">
          Sounds go out as SFZ, SoundFont, WAV and FLAC from the Sounds view. A sound that the engine makes can be
          bounced first.
        </p>
      </div>
    </SheetFrame>
  );
}

function Takes({ rig, patch }: { rig: Rig; patch: Patch }) {
  const dispatch = useAppDispatch();
  useRefresh(takeWriting);
  useRefresh(session);
  const chosen = useAppSelector((state) => state.listening.takes[patch.id]);
  const [takeId, setTakeId] = useState<string | null>(chosen === '' ? null : (chosen ?? patch.takes[0]?.id ?? null));
  const [format, setFormat] = useState<TakeFormat>('wav');
  const [stems, setStems] = useState(false);
  const loaded = session.takes.take;
  const own = patch.takes.find(({ id }) => id === takeId);
  const write = async (all: boolean) => {
    try {
      const one = takeToWrite(patch, takeId);
      const takes = all
        ? await takesOfSetlist(rig)
        : one
          ? [{ patch, take: one, name: `${patch.name} ${one.name}` }]
          : [];
      if (takes.length === 0) {
        dispatch(notice('info', 'There is no take to write.', 'written'));
        return;
      }
      const count = await takeWriting.write(rig, takes, format, stems, all ? rig.name : `${patch.name} stems`);
      if (count > 0)
        dispatch(notice('info', count === 1 ? 'The take is written.' : `${count} files are written.`, 'written'));
    } catch (error) {
      dispatch(notice('problem', `The take could not be written: ${(error as Error).message}`, 'written'));
    }
  };
  return (
    <section aria-labelledby="hand-takes">
      <h3 className="heading mb-1" id="hand-takes">
        Takes
      </h3>
      <label className="mb-1.5 flex items-center gap-2">
        <span className="text-faint">play takes to a MIDI output as well</span>
        <select
          className="field"
          value={session.takeOutput}
          onChange={(event) => session.setTakeOutput(event.target.value)}
        >
          <option value="">no</option>
          {session.outputs.names.map((name) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {takeWriting.share !== null ? (
        <div className="flex items-center gap-2">
          <span role="status" className="min-w-0 truncate">
            Rendering “{takeWriting.what}” …
          </span>
          <progress className="flex-1" max={1} value={takeWriting.share} aria-label="Takes" />
          <button className="button" onClick={() => takeWriting.cancel()}>
            Give up
          </button>
        </div>
      ) : (
        <div className="flex flex-col gap-1.5">
          <div className="flex flex-wrap items-center gap-2">
            <select
              className="field min-w-0 flex-1"
              aria-label="Take to write"
              value={takeId ?? ''}
              onChange={(event) => setTakeId(event.target.value || null)}
            >
              {patch.takes.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
              <option value="">{loaded ? `what is loaded: ${loaded.name}` : 'none is loaded'}</option>
            </select>
            <select
              className="field"
              aria-label="Format"
              value={format}
              onChange={(event) => setFormat(event.target.value as TakeFormat)}
            >
              <option value="wav">WAV</option>
              <option value="flac">FLAC</option>
            </select>
            <label
              className="flex items-center gap-1.5"
              title="Each layer as it goes into the mix, what groups and shared effects add, and what the main chain does: together they are the whole"
            >
              <input type="checkbox" checked={stems} onChange={(event) => setStems(event.target.checked)} />
              stems
            </label>
          </div>
          <div className="flex flex-wrap gap-1.5">
            <button className="button" disabled={!own && !loaded} onClick={() => void write(false)}>
              Write this take
            </button>
            <button className="button" onClick={() => void write(true)}>
              Write the takes of the setlist
            </button>
            {own && (
              <button className="button" onClick={() => exportTake(patch, own)}>
                As a MIDI file
              </button>
            )}
          </div>
        </div>
      )}
    </section>
  );
}

/** Patches of another archive come into this rig. */
function Merging() {
  const dispatch = useAppDispatch();
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const chooser = useRef<HTMLInputElement>(null);
  const [other, setOther] = useState<OtherRig | null>(null);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [busy, setBusy] = useState(false);
  const open = async (file: File) => {
    try {
      const read = await readOther(file);
      setOther(read);
      setChosen(read.rig.patches.map(({ id }) => id));
    } catch (error) {
      dispatch(
        notice('problem', `“${file.name}” cannot be read: ${(error as Error).message}. Nothing has changed.`, 'merged'),
      );
    }
  };
  const take = async () => {
    setBusy(true);
    try {
      const { patches, sounds, sameSounds, samples, sameSamples } = await takeIn(other!, chosen);
      dispatch(
        notice(
          'info',
          `${patches.length} ${patches.length === 1 ? 'patch' : 'patches'} came in with ${sounds} ${sounds === 1 ? 'sound' : 'sounds'} and ${samples} ${samples === 1 ? 'recording' : 'recordings'}${sameSounds + sameSamples > 0 ? `; ${sameSounds} sounds and ${sameSamples} recordings were here already` : ''}.`,
          'merged',
        ),
      );
      setOther(null);
    } catch (error) {
      dispatch(notice('problem', `They did not come in: ${(error as Error).message}`, 'merged'));
    } finally {
      setBusy(false);
    }
  };
  return (
    <section aria-labelledby="hand-merge">
      <h3 className="heading mb-1" id="hand-merge">
        Patches from another rig
      </h3>
      {other === null ? (
        <button className="button" disabled={readOnly} onClick={() => chooser.current?.click()}>
          Choose an archive …
        </button>
      ) : (
        <form
          className="flex flex-col gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            void take();
          }}
        >
          <p>
            Of <b>{other.rig.name}</b>:
          </p>
          <ul className="max-h-48 overflow-y-auto" aria-label="Patches to take">
            {other.rig.patches.map(({ id, name }) => (
              <li key={id}>
                <label className="flex items-center gap-1.5">
                  <input
                    type="checkbox"
                    checked={chosen.includes(id)}
                    onChange={(event) =>
                      setChosen(event.target.checked ? [...chosen, id] : chosen.filter((each) => each !== id))
                    }
                  />
                  {name}
                </label>
              </li>
            ))}
          </ul>
          <span className="flex gap-1.5">
            <button className="button" type="submit" disabled={busy || chosen.length === 0}>
              Take {chosen.length} in
            </button>
            <button className="button" type="button" onClick={() => setOther(null)}>
              Leave it
            </button>
          </span>
        </form>
      )}
      <input
        ref={chooser}
        type="file"
        accept=".wavicle,.zip"
        className="hidden"
        aria-label="Archive to take patches from"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void open(file);
        }}
      />
    </section>
  );
}
