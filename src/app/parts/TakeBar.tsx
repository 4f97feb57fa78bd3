import { FolderOpen, Play, Repeat, Square } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Take } from '../../core/music/take';
import type { Patch } from '../../core/rig/schema';
import { fetchTakes, importFile, ownTakeOf } from '../files';
import { useAppSelector } from '../state/store';
import { session } from '../session';
import { useFrames, useRefresh } from './useLive';

/** The take that plays, round and round while the patch is edited. A patch brings its own when it has one. */
export function TakeBar({ patch }: { patch: Patch }) {
  const player = session.takes;
  useRefresh(player);
  const [takes, setTakes] = useState<Map<string, Take>>(new Map());
  const bar = useRef<HTMLDivElement>(null);
  const chooser = useRef<HTMLInputElement>(null);
  useEffect(() => { fetchTakes().then(setTakes, () => setTakes(new Map())); }, []);
  const patchId = patch.id;
  const rigId = useAppSelector((state) => state.rig.rig!.id);
  // One's own take stays with its patch; else the patch brings the one that ships for it.
  useEffect(() => {
    let live = true;
    const load = async () => {
      const own = (await ownTakeOf(rigId, patchId).catch(() => undefined)) ?? takes.get(patchId);
      if (!live) return;
      if (own) player.load(own);
      else if (!player.take && takes.size > 0) player.load([...takes.values()][0]);
    };
    void load();
    return () => { live = false; };
  }, [player, takes, patchId, rigId]);
  useFrames(useCallback(() => {
    if (bar.current) bar.current.style.width = `${player.take ? (player.position / player.take.seconds) * 100 : 0}%`;
  }, [player]));
  const chosen = [...takes].find(([, take]) => take.name === player.take?.name)?.[0];
  return (
    <>
      <button className="button" disabled={!player.take} aria-label={player.playing ? 'Stop the take' : 'Play the take'} onClick={() => session.toggleTake()}>
        {player.playing ? <Square size={12} fill="currentColor" /> : <Play size={12} fill="currentColor" />} {player.playing ? 'stop' : 'play'}
      </button>
      <label className="flex items-center gap-2"><span className="text-[12px] text-faint">take</span>
        <select className="field max-w-40 max-[1000px]:max-w-24" value={chosen ?? 'own'} onChange={(event) => { const take = takes.get(event.target.value); if (take) player.load(take); }}>
          {[...takes].map(([id, take]) => <option key={id} value={id}>{take.name}</option>)}
          {!chosen && <option value="own">{player.take?.name ?? 'none'}</option>}
        </select>
      </label>
      <button className="button-bare" aria-label="Open a MIDI file as the take" title="Open a MIDI file as the take (or drop one anywhere)" onClick={() => chooser.current?.click()}><FolderOpen size={15} /></button>
      <input ref={chooser} type="file" accept=".mid,.midi" className="hidden" aria-label="MIDI file" tabIndex={-1} onChange={(event) => { const file = event.target.files?.[0]; event.target.value = ''; if (file) void importFile(file); }} />
      <div aria-hidden className="h-[5px] w-28 max-[1000px]:hidden overflow-hidden rounded-full border border-edge"><div ref={bar} className="h-full bg-ink" /></div>
      <button className="button-bare aria-pressed:bg-ink aria-pressed:text-paper" aria-pressed={player.looped} aria-label="Loop the take" title="Loop" onClick={() => player.setLooped(!player.looped)}><Repeat size={14} /></button>
    </>
  );
}
