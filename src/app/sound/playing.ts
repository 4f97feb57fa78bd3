import { compile, contextOf } from '../../core/engine/program/compile';
import { levelGain } from '../../core/rig/parameters';
import { markAt, newLayer, newPatch, newSound, newZone } from '../../core/rig/defaults';
import { takeConnection } from '../../core/rig/edits/mix';
import { outputId, withoutLoose } from '../../core/rig/mix';
import { addNotes, addTake, newPart } from '../../core/rig/edits/takes';
import { partOf, playable, quartersOf } from '../../core/rig/takes';
import type { Backing, Layer, Part, Patch, PatchTake, Rig } from '../../core/rig/schema';
import type { Take } from '../../core/music/take';
import { clicks } from '../../host/click';
import { MOST_BESIDE } from '../../host/protocol';
import { keepUnfinished, loadUnfinished, type Unfinished } from '../document/storage/database';
import { editPatch, newId, notice, stepBack, store } from '../document/store';
import { listeningSlice } from '../listening/listeningSlice';
import { session } from './session';

/** The last player plays all recordings. */
const RECORDINGS = MOST_BESIDE;
const FIRST_KEY = 36;
const LOWEST_DB = -60;
const BEATS = 4;
const UNFINISHED_MS = 2000;

/** The take of a patch's own that is chosen; undefined: one that ships, or a file. */
export function takeOf(patch: Patch): PatchTake | undefined {
  const chosen = store.getState().listening.takes[patch.id];
  return chosen === '' ? undefined : (patch.takes.find(({ id }) => id === chosen) ?? patch.takes[0]);
}

/** Parts that are played beside the patch: as many as there are players for. */
const besideOf = (take: PatchTake): Part[] =>
  take.parts.filter(({ plays }) => plays !== 'patch').slice(0, RECORDINGS - 1);

/** Sees to it that what is chosen to be played, the take and all that goes along with it, is before the players. */
class Playing {
  private shown: { take: PatchTake; tempo: number; backing: Patch['backing'] } | null = null;
  private readonly before = new Map<number, string>();
  private stopClicks: () => void = () => undefined;
  /** Recording waits for its first beat. */
  counting = false;
  /** When recording begins in the time of the audio, and the length of a beat. */
  countsTo = { at: 0, beat: 1 };

  /** The tempo by which takes play. */
  tempoOf(patch: Patch): number {
    return session.hands.tempo ?? patch.tempo;
  }

  /** Brings the chosen take up to date. Gives whether there is one. */
  show(rig: Rig, patch: Patch): boolean {
    const take = takeOf(patch);
    if (!take) {
      if (this.shown) for (let player = 1; player <= MOST_BESIDE; player++) this.put(player, null, 0, '');
      this.shown = null;
      return false;
    }
    const tempo = this.tempoOf(patch);
    const beside = besideOf(take);
    beside.forEach((part, i) =>
      this.put(i + 1, patchOfPart(rig, patch, part), levelGain(part.level, LOWEST_DB), `${part.plays} ${tempo}`, rig),
    );
    for (let player = beside.length + 1; player < RECORDINGS; player++) this.put(player, null, 0, '');
    const heard = patch.backing.filter(({ on, sampleId }) => on && rig.samples.some(({ id }) => id === sampleId));
    const recordings = heard.length === 0 ? null : patchOfRecordings(heard, tempo);
    this.put(
      RECORDINGS,
      recordings?.patch ?? null,
      1,
      heard.map((each) => `${each.sampleId} ${each.level} ${each.tempo} ${tempo} ${each.pair ?? ''}`).join(),
      recordings ? { ...rig, sounds: recordings.sounds } : rig,
    );
    if (this.shown && this.shown.take === take && this.shown.tempo === tempo && this.shown.backing === patch.backing)
      return true;
    const same = this.shown?.take.id === take.id;
    this.shown = { take, tempo, backing: patch.backing };
    const played = playable(
      take,
      tempo,
      (part) => beside.indexOf(part) + 1,
      heard.map((backing, i) => ({
        backing,
        quarters: quartersOf(
          backing,
          rig.samples.find(({ id }) => id === backing.sampleId)!,
        ),
        key: FIRST_KEY + i,
        player: RECORDINGS,
      })),
    );
    if (same) session.takes.replace(played);
    else session.takes.load(played);
    return true;
  }

  private put(player: number, patch: Patch | null, gain: number, key: string, rig?: Rig): void {
    const what = patch && rig ? `${key} ${contentKey(patch)}` : '';
    if (this.before.get(player) === what) {
      if (what !== '') session.audio.setBesideGain(player, gain);
      return;
    }
    this.before.set(player, what);
    if (!patch || !rig) return session.audio.setBeside(player, null, 0);
    try {
      const program = compile(patch, contextOf(rig, session.audio.context?.sampleRate));
      void session.samples.preparedFor(program.samples).then((samples) => {
        if (this.before.get(player) === what) session.audio.setBeside(player, { program, samples }, gain);
      });
    } catch (error) {
      store.dispatch(notice('problem', `“${patch.name}” cannot play along: ${(error as Error).message}.`, 'beside'));
    }
  }

  // Recording

  /** Begins to record: into the chosen take while it plays (overdub), or as a new one after a bar of counting in. */
  async record(patch: Patch, overdub: boolean): Promise<void> {
    await session.audio.start();
    const { context } = session.audio;
    if (!context || session.input.recorder.on) return;
    const tempo = this.tempoOf(patch);
    const second = 60 / tempo;
    const take = overdub ? takeOf(patch) : undefined;
    session.takes.stop();
    const begin = context.currentTime + 0.1 + BEATS * second;
    this.counting = true;
    this.countsTo = { at: begin, beat: second };
    this.stopClicks = clicks(
      context,
      Array.from({ length: take ? BEATS : BEATS + 64 * BEATS }, (_, i) => ({
        at: begin - (BEATS - i) * second,
        first: i % BEATS === 0,
      })),
      session.pairs.countsInAt,
    );
    if (take) {
      const partId = handsOf(take)?.id ?? newId();
      if (!handsOf(take))
        store.dispatch(
          editPatch(patch.id, (old) => ({
            ...old,
            takes: old.takes.map((each) =>
              each.id === take.id ? { ...each, parts: [newPart(partId, 'hands', 'patch'), ...each.parts] } : each,
            ),
          })),
        );
      session.input.recorder.start(() =>
        context.currentTime - begin < 0
          ? (context.currentTime - begin) / second
          : session.takes.playing
            ? session.takes.position / second
            : 0,
      );
      session.takes.onRound = () => this.keep(patch.id, take.id, partId, take.quarters);
      this.recording = { patchId: patch.id, takeId: take.id, partId };
      setTimeout(
        () => {
          this.counting = false;
          if (session.input.recorder.on) session.toggleTake();
          session.tell();
        },
        Math.max(0, (begin - context.currentTime - 0.05) * 1000),
      );
    } else {
      session.input.recorder.start(() => (context.currentTime - begin) / second);
      this.recording = { patchId: patch.id, takeId: null, partId: newId() };
      setTimeout(
        () => {
          this.counting = false;
          session.play({ type: 'position', quarters: 0 });
          session.tell();
        },
        Math.max(0, (begin - context.currentTime) * 1000),
      );
    }
    clearInterval(this.keepsUnfinished);
    this.keepsUnfinished = setInterval(() => this.writeUnfinished(patch), UNFINISHED_MS);
    session.tell();
  }
  /** Writes down every few seconds what was recorded so far. */
  private keepsUnfinished: ReturnType<typeof setInterval> | undefined;
  private writeUnfinished(patch: Patch): void {
    const { rig } = store.getState().rig;
    const { notes, moves } = session.input.recorder.peek();
    if (rig && notes.length + moves.length > 0)
      void keepUnfinished({
        rigId: rig.id,
        patchId: patch.id,
        tempo: this.tempoOf(patch),
        at: Date.now(),
        notes,
        moves,
      }).catch(() => undefined);
  }

  /** A recording that a browser which ended left behind is offered as a take of its patch. */
  async offerUnfinished(): Promise<void> {
    const left = await loadUnfinished().catch(() => undefined);
    const { rig } = store.getState().rig;
    const patch = left && rig?.id === left.rigId ? rig.patches.find(({ id }) => id === left.patchId) : undefined;
    if (!left || !patch) return;
    const count = left.notes.length;
    store.dispatch(
      notice(
        'loss',
        `A recording of ${count} ${count === 1 ? 'note' : 'notes'} on ${patch.name} was cut off when the browser ended.`,
        'unfinished',
        {
          label: 'Keep it as a take',
          run: () => {
            this.keepAsTake(patch.id, newId(), left.notes, left.moves, left.tempo);
            void keepUnfinished(null);
          },
        },
      ),
    );
  }

  /** What was recorded becomes a new take of a patch, as long as whole bars. */
  private keepAsTake(
    patchId: string,
    partId: string,
    notes: Unfinished['notes'],
    moves: Unfinished['moves'],
    tempo: number,
  ): void {
    const last = Math.max(...notes.map(([at, length]) => at + length), ...moves.map(([at]) => at), 1);
    // A last note that is let go a little late makes no bar of its own.
    const quarters = Math.max(BEATS, Math.ceil((last - 0.25) / BEATS) * BEATS);
    const id = newId();
    store.dispatch(
      editPatch(patchId, (old) =>
        addNotes(
          addTake(old, { id, name: freeName(old), quarters, tempo, parts: [newPart(partId, 'hands', 'patch')] }),
          id,
          partId,
          notes,
          moves,
        ),
      ),
    );
    store.dispatch(listeningSlice.actions.takeChosen({ patchId, takeId: id }));
    store.dispatch(
      notice(
        'info',
        `A take of ${notes.length} ${notes.length === 1 ? 'note' : 'notes'} was recorded. Control Z takes it away.`,
        'gone',
        { label: 'Take it away', run: () => void store.dispatch(stepBack('undone')) },
      ),
    );
  }

  private recording: { patchId: string; takeId: string | null; partId: string } | null = null;

  /** A round of an overdub has ended: what was played in it becomes part of the take, and is heard in the next. */
  private keep(patchId: string, takeId: string, partId: string, quarters: number): void {
    const { notes, moves } = session.input.recorder.take(quarters);
    if (notes.length + moves.length > 0)
      store.dispatch(editPatch(patchId, (old) => addNotes(old, takeId, partId, notes, moves)));
  }

  /** Ends the recording and keeps what was played; nothing played, nothing kept. */
  stopRecording(patch: Patch): void {
    const { recording } = this;
    this.stopClicks();
    this.counting = false;
    session.takes.onRound = () => undefined;
    const { notes, moves } = session.input.recorder.stop();
    this.recording = null;
    clearInterval(this.keepsUnfinished);
    // By then the take itself is on its way to the disk.
    setTimeout(() => {
      if (!session.input.recorder.on) void keepUnfinished(null).catch(() => undefined);
    }, UNFINISHED_MS);
    if (recording?.takeId) {
      if (notes.length + moves.length > 0)
        store.dispatch(
          editPatch(recording.patchId, (old) => addNotes(old, recording.takeId!, recording.partId, notes, moves)),
        );
      session.takes.stop();
    } else if (recording && notes.length + moves.length > 0) {
      this.keepAsTake(recording.patchId, recording.partId, notes, moves, this.tempoOf(patch));
    }
    session.tell();
  }

  /** The take that is loaded, wherever it came from, as one of the patch's own: to be edited. Gives its id. */
  adopt(patch: Patch): string | undefined {
    const own = takeOf(patch);
    if (own) return own.id;
    const loaded: Take | null = session.takes.take;
    const id = newId();
    const tempo = patch.tempo;
    const part = loaded ? partOf(loaded, tempo, newId()) : newPart(newId(), 'hands', 'patch');
    const quarters = loaded ? Math.max(1, Math.ceil(loaded.seconds / (60 / tempo) - 0.01)) : 4 * BEATS;
    store.dispatch(
      editPatch(patch.id, (old) =>
        addTake(old, { id, name: loaded?.name ?? freeName(old), quarters, tempo, parts: [part] }),
      ),
    );
    store.dispatch(listeningSlice.actions.takeChosen({ patchId: patch.id, takeId: id }));
    return id;
  }
}

/** The part that the hands play. */
export const handsOf = (take: PatchTake): Part | undefined => take.parts.find(({ plays }) => plays === 'patch');
const freeName = (patch: Patch): string =>
  Array.from({ length: 40 }, (_, n) => `Take ${n + 1}`).find(
    (name) => !patch.takes.some((take) => take.name === name),
  )!;

/** The patch that a part plays: another one, or this one with a few of its layers. Null where it is gone. */
function patchOfPart(rig: Rig, patch: Patch, part: Part): Patch | null {
  const [kind, id] = part.plays.split('.');
  if (kind === 'patch') return rig.patches.find((other) => other.id === id) ?? null;
  const layers = patch.layers.filter((layer) => (kind === 'group' ? layer.groupId === id : layer.id === id));
  return withoutLoose({
    ...patch,
    id: `${patch.id}-part`,
    layers: kind === 'notes' ? layers.map(pastItsPath) : layers,
  });
}

/** A layer that takes notes as they come; the same object for the same layer. */
function pastItsPath(layer: Layer): Layer {
  let plain = plainLayers.get(layer);
  if (!plain) {
    const { path } = layer;
    plain = {
      ...layer,
      path: {
        ...path,
        scale: { ...path.scale, on: false },
        chord: { ...path.chord, on: false },
        arpeggio: { ...path.arpeggio, on: false },
      },
    };
    plainLayers.set(layer, plain);
  }
  return plain;
}
const plainLayers = new WeakMap<Layer, Layer>();

/** Recordings as a patch: each on a key of its own, as fast as the tempo asks. */
function patchOfRecordings(backing: Patch['backing'], tempo: number): { patch: Patch; sounds: Rig['sounds'] } {
  const zoneOf = (each: Backing) => ({
    ...newZone(each.sampleId, FIRST_KEY + backing.indexOf(each)),
    playback: 'while-held' as const,
    gain: each.level <= LOWEST_DB ? -96 : each.level + 3,
    tune: Math.max(-1200, Math.min(1200, 1200 * Math.log2(tempo / each.tempo))),
  });
  // A layer for each pair of outputs.
  const pairs = [...new Set(backing.map(({ pair }) => pair))];
  const idOf = (pair: string | null): string => (pair === null ? 'backing' : `backing-${pair}`);
  const sounds = pairs.map((pair) =>
    newSound(idOf(pair), 'backing', backing.filter((each) => each.pair === pair).map(zoneOf)),
  );
  const patch: Patch = {
    ...newPatch('backing', 'backing'),
    layers: pairs.map((pair) => ({
      ...newLayer(idOf(pair), 'backing', idOf(pair), markAt(0)),
      params: { velocityToLevel: 0, release: 0.02 },
    })),
  };
  return {
    sounds,
    patch: pairs.reduce(
      (left, pair) => (pair === null ? left : takeConnection(left, outputId(`layer.${idOf(pair)}`), `pair.${pair}`)),
      patch,
    ),
  };
}

const keys = new WeakMap<object, number>();
let counted = 0;
/** A short text that is the same for the same content of a patch. */
function contentKey(patch: Patch): string {
  const parts: readonly object[] = [
    patch.layers,
    patch.groups,
    patch.routes,
    patch.pools,
    patch.connections,
    patch.main,
    patch.movers,
    patch.macros,
  ];
  // What was made for a part has lists of its own each time; its layers are still the same objects.
  const stable = patch.id.endsWith('-part') ? patch.layers : parts;
  return patch.id === 'backing'
    ? 'backing'
    : stable
        .map((part) => {
          if (!keys.has(part)) keys.set(part, ++counted);
          return keys.get(part);
        })
        .join(' ');
}

export const playing = new Playing();
