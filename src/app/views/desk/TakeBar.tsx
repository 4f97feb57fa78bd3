import { Circle, FolderOpen, Layers2, PencilLine, Play, Repeat, Square } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Take } from '../../../core/music/take';
import type { Patch } from '../../../core/rig/schema';
import { plainTake } from '../../../core/music/plainTake';
import { fetchTakes, ownTakeOf, SHOW_TAKE } from '../../jobs/takesThere';
import { playing, takeOf } from '../../sound/playing';
import { useAppDispatch, useAppSelector } from '../../document/store';
import { listeningSlice } from '../../listening/listeningSlice';
import { mixSlice } from '../mix/mixSlice';
import { session } from '../../sound/session';
import { LiveButton } from '../../parts/LiveButton';
import { ClickButton } from '../../parts/ClickButton';
import { useFrames, useRefresh, useStore } from '../../parts/useLive';

/**
 * The take that plays, round and round while the patch is edited: one of the patch's own, the one that ships for it, or
 * a file.
 */
export function TakeBar({ patch }: { patch: Patch }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const player = session.takes;
  useRefresh(player);
  const [takes, setTakes] = useState<Map<string, Take>>(new Map());
  const bar = useRef<HTMLDivElement>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const { overdub, takes: chosenTakes } = useAppSelector((state) => state.listening);
  const rig = useAppSelector((state) => state.rig.rig)!;
  const readOnly = useAppSelector((state) => state.rig.readOnly);
  const recording = useStore(session, (now) => now.input.recorder.on);
  const counting = useStore(session, () => playing.counting);
  const tempo = useStore(session.hands, (hands) => hands.tempo);
  useEffect(() => {
    fetchTakes().then(
      (all) => setTakes(new Map([...all].filter(([id]) => !id.startsWith(SHOW_TAKE)))),
      () => setTakes(new Map()),
    );
  }, []);
  const patchId = patch.id;
  const rigId = rig.id;
  const { keyLow, keyHigh } = rig.controllers;
  const own = takeOf(patch);
  const chosenId = chosenTakes[patchId];
  // A take of the patch's own is brought up to date with each edit and each tempo.
  useEffect(() => {
    playing.show(rig, patch);
  }, [rig, patch, chosenId, tempo]);
  // Else a file of one's own stays with its patch, or the patch brings the one that ships for it.
  const hasOwn = own !== undefined;
  useEffect(() => {
    if (hasOwn) return undefined;
    let live = true;
    const load = async () => {
      const kept = (await ownTakeOf(rigId, patchId).catch(() => undefined)) ?? takes.get(patchId);
      if (!live) return;
      // What was played on the patch before says nothing of this one: it is measured on what every patch can be asked
      // for.
      if (kept) player.load(kept);
      else if (takes.size > 0) player.load(plainTake(keyLow, keyHigh));
    };
    void load();
    return () => {
      live = false;
    };
  }, [player, takes, patchId, rigId, hasOwn, keyLow, keyHigh]);
  useFrames(
    useCallback(() => {
      if (bar.current) bar.current.style.width = `${player.take ? (player.position / player.take.seconds) * 100 : 0}%`;
    }, [player]),
  );
  const shipped = own ? undefined : [...takes].find(([, take]) => take.name === player.take?.name)?.[0];
  const choose = (value: string) => {
    const mine = patch.takes.some(({ id }) => id === value);
    dispatch(listeningSlice.actions.takeChosen({ patchId, takeId: mine ? value : '' }));
    const take = takes.get(value);
    if (!mine && take) player.load(take);
  };
  return (
    <>
      <button
        className="button"
        disabled={!player.take}
        aria-label={player.playing ? 'Stop the take' : 'Play the take'}
        onClick={() => (recording ? playing.stopRecording(patch) : session.toggleTake())}
      >
        {player.playing ? <Square size={12} fill="currentColor" /> : <Play size={12} fill="currentColor" />}{' '}
        {player.playing ? 'stop' : 'play'}
      </button>
      <button
        className={`button-bare ${recording ? 'bg-alarm! text-on-alarm' : ''}`}
        aria-label={recording ? 'End the recording' : 'Record a take'}
        aria-pressed={recording}
        disabled={readOnly}
        title={
          recording
            ? counting
              ? 'Counting in …'
              : 'Recording: click to keep it'
            : `Records what you play and move, after a bar of counting in${overdub && own ? `, into “${own.name}”` : ''}`
        }
        onClick={() => (recording ? playing.stopRecording(patch) : void playing.record(patch, overdub))}
      >
        <Circle
          size={14}
          fill={recording ? 'currentColor' : 'var(--alarm)'}
          stroke={recording ? 'currentColor' : 'var(--alarm)'}
        />
      </button>
      <button
        className="button-bare aria-pressed:bg-ink aria-pressed:text-paper"
        aria-pressed={overdub}
        aria-label="Overdub"
        title="Recording goes into the take that plays, round by round"
        onClick={() => dispatch(listeningSlice.actions.overdubSet(!overdub))}
      >
        <Layers2 size={14} />
      </button>
      <label className="flex items-center gap-2">
        <span className="text-[12px] text-faint max-[1180px]:hidden">take</span>
        <select
          className="field max-w-32 max-[1000px]:max-w-24"
          aria-label="take"
          value={own?.id ?? shipped ?? 'own'}
          onChange={(event) => choose(event.target.value)}
        >
          {patch.takes.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
          {[...takes].map(([id, take]) => (
            <option key={id} value={id}>
              {take.name}
            </option>
          ))}
          {!own && !shipped && <option value="own">{player.take?.name ?? 'none'}</option>}
        </select>
      </label>
      <button
        className="button-bare"
        aria-label="Edit the take"
        title="Notes and moves of the take, and what plays along"
        disabled={readOnly}
        onClick={() => {
          playing.adopt(patch);
          dispatch(mixSlice.actions.mixAsSet('take'));
          void navigate(`/patch/${patchId}/mix`);
        }}
      >
        <PencilLine size={15} />
      </button>
      <button
        className="button-bare max-[1000px]:hidden"
        aria-label="Open a MIDI file as the take"
        title="Open a MIDI file as the take (or drop one anywhere)"
        onClick={() => chooser.current?.click()}
      >
        <FolderOpen size={15} />
      </button>
      <input
        ref={chooser}
        type="file"
        accept=".mid,.midi"
        className="hidden"
        aria-label="MIDI file"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void import('../../jobs/files').then(({ importFile }) => importFile(file));
        }}
      />
      <div aria-hidden className="h-[5px] w-20 overflow-hidden rounded-full border border-edge max-[1180px]:hidden">
        <div ref={bar} className="h-full bg-ink" />
      </div>
      <button
        className="button-bare aria-pressed:bg-ink aria-pressed:text-paper"
        aria-pressed={player.looped}
        aria-label="Loop the take"
        title="Loop"
        onClick={() => player.setLooped(!player.looped)}
      >
        <Repeat size={14} />
      </button>
      <ClickButton className="button-bare" size={15} />
      <LiveButton patch={patch} className="button-bare" size={15} />
    </>
  );
}
