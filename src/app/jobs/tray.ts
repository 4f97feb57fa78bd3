import { AUDIO_ENDINGS, BROWSER_AUDIO_ENDINGS } from '../../core/formats/audioFile';
import type { BroughtFile, BroughtSound } from '../../core/formats/bringIn';
import { baseName, folderOf, FolderIndex, shortened } from '../../core/formats/folder';
import { stereoPairs } from '../../core/mapping/stereoPairs';
import { layoutWithoutKeys, makePlan } from '../../core/mapping/plan';
import { PLAN_DEFAULTS, type Plan, type PlanOptions } from '../../core/mapping/planModel';
import { naturalCompare } from '../../core/mapping/naturalOrder';
import type { DroppedFile } from '../document/droppedFiles';
import { openTray } from './openTray';
import { soundLab } from '../document/soundLab';
import { swept } from '../document/storage/demoSamples';

const MOST_STEPS = 100;

/** What undo in the tray goes back to. */
type TrayState = Pick<Tray, 'files' | 'sounds' | 'name' | 'options'> & { layoutChosen: boolean };

/** A step that was taken outside, in its place among those of the tray: it is gone back over by whoever took it. */
interface Outside {
  outside: (way: 'undone' | 'redone') => void;
}

/** `right`: the right channel of a recording whose left one is `file`. */
export interface TrayFile {
  path: string;
  file: File | null;
  right?: File | null;
  state: 'waiting' | 'ready' | 'failed';
  problem?: string;
  brought?: BroughtFile;
}

/**
 * Files that were brought in and wait to be laid out. They are decoded and measured away from the page and kept by
 * content, but nothing of the rig is touched until
 * the plan is applied.
 */
export class Tray {
  /** In the order in which they are laid out. */
  files: TrayFile[] = [];
  /** Whole sounds that came as such (SFZ, SoundFont), and which of them are wanted. */
  sounds: (BroughtSound & { file: string; wanted: boolean })[] = [];
  /** Files that are no audio, or could not be read as what they claim to be. */
  problems: string[] = [];
  name = '';
  options: PlanOptions = PLAN_DEFAULTS;
  /** Work under way: files done, of how many. */
  done = 0;
  total = 0;
  open = false;
  version = 0;
  private run = 0;
  /** What was brought in while something else was read waits for it. */
  private turn: Promise<void> = Promise.resolve();
  private waiting = 0;
  private layoutChosen = false;
  /** What was done to the tray, for going back and forth: the order, what is wanted, how it is laid out. */
  private past: (TrayState | Outside)[] = [];
  private future: (TrayState | Outside)[] = [];
  private told = 0;
  private planned: { version: number; plan: Plan } | null = null;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  get busy(): boolean {
    return this.done < this.total || this.waiting > 0;
  }

  /** Whether anything would be lost with the page. */
  get isFull(): boolean {
    return this.files.length > 0 || this.sounds.length > 0;
  }

  /** Files that take part in the plan: those that could be read. */
  get ready(): (TrayFile & { brought: BroughtFile })[] {
    return this.files.filter((file): file is TrayFile & { brought: BroughtFile } => file.brought !== undefined);
  }

  get plan(): Plan {
    if (this.planned?.version !== this.version)
      this.planned = {
        version: this.version,
        plan: makePlan(
          this.ready.map((file) => file.brought.plan),
          this.options,
        ),
      };
    return this.planned!.plan;
  }

  private get state(): TrayState {
    const { files, sounds, name, options, layoutChosen } = this;
    return { files, sounds, name, options, layoutChosen };
  }

  /** Something was done with a file outside the tray: going back comes to it in its turn. */
  rememberOutside(outside: Outside['outside']): void {
    this.past = [...this.past, { outside }].slice(-MOST_STEPS);
    this.future = [];
    this.tell();
  }

  private remember(): void {
    this.past = [...this.past, this.state].slice(-MOST_STEPS);
    this.future = [];
  }

  /** Takes back, or does again, what was done to the tray last. Nothing while files are read. */
  goBack(way: 'undone' | 'redone'): void {
    const from = way === 'undone' ? this.past : this.future;
    const to = from[from.length - 1];
    if (!to || this.busy) return;
    from.pop();
    const over = way === 'undone' ? this.future : this.past;
    if ('outside' in to) {
      over.push(to);
      to.outside(way);
    } else {
      over.push(this.state);
      Object.assign(this, to);
    }
    this.tell();
  }

  canGoBack(way: 'undone' | 'redone'): boolean {
    return !this.busy && (way === 'undone' ? this.past : this.future).length > 0;
  }

  setOptions(change: Partial<PlanOptions>): void {
    if (Object.entries(change).some(([option, value]) => this.options[option as keyof PlanOptions] !== value))
      this.remember();
    if (change.layout !== undefined) this.layoutChosen = true;
    // Pieces of names are counted inside their folders: another meaning of those counts them anew.
    this.options = {
      ...this.options,
      ...change,
      ...(change.layout !== undefined ? { fallback: false } : {}),
      ...(change.folders !== undefined ? { corrections: {} } : {}),
    };
    this.tell();
    if (change.layout === 'pitch' || change.list) void this.hearPitches();
  }

  setName(name: string): void {
    this.remember();
    this.name = name;
    this.tell();
  }

  want(sounds: readonly BroughtSound[], wanted: boolean): void {
    this.remember();
    this.sounds = this.sounds.map((each) =>
      sounds.includes(each) && each.zones.length > 0 ? { ...each, wanted } : each,
    );
    this.tell();
  }

  /** Puts the file at one place of the order at another. */
  move(from: number, to: number): void {
    this.remember();
    const files = [...this.files];
    const [file] = files.splice(from, 1);
    files.splice(to, 0, file);
    this.files = files;
    this.tell();
  }

  sort(by: 'name' | 'level'): void {
    this.remember();
    const level = (file: TrayFile) => file.brought?.levels.lufs ?? -Infinity;
    this.files = [...this.files].sort(
      by === 'name' ? (a, b) => naturalCompare(a.path, b.path) : (a, b) => level(a) - level(b),
    );
    this.tell();
  }

  remove(file: TrayFile): void {
    this.remember();
    this.files = this.files.filter((other) => other !== file);
    this.tell();
  }

  show(): void {
    this.open = true;
    this.tell();
  }

  /** Gives everything up; what was under way comes to nothing. */
  clear(): void {
    this.run++;
    Object.assign(this, {
      files: [],
      sounds: [],
      problems: [],
      name: '',
      done: 0,
      total: 0,
      open: false,
      options: { ...PLAN_DEFAULTS, middleC: this.options.middleC },
    });
    this.layoutChosen = false;
    this.past = [];
    this.future = [];
    this.tell();
  }

  /** Stops reading; what was read stays. */
  cancel(): void {
    this.run++;
    this.files = this.files.filter((file) => file.state !== 'waiting');
    this.done = this.total;
    this.tell();
    this.fallBack();
  }

  /**
   * Brings files in, after those that are still being read. A common folder gives the name and is taken off the paths.
   */
  add(dropped: readonly DroppedFile[]): Promise<void> {
    const { run } = this;
    // States of before know nothing of the new files.
    this.past = [];
    this.future = [];
    this.open = true;
    this.waiting++;
    this.tell();
    const added = this.turn.then(async () => {
      this.waiting--;
      // Given up while it waited.
      if (run === this.run) await this.addNow(dropped, run);
      else this.tell();
    });
    this.turn = added.catch(() => undefined);
    return added;
  }

  private async addNow(given: readonly DroppedFile[], run: number): Promise<void> {
    await swept.promise;
    const dropped = await this.unpacked(given);
    if (run !== this.run) return;
    const paths = dropped.map(({ path }) => path.replace(/^(\.?\/)+/, ''));
    const root =
      paths.length > 0 && paths.every((path) => path.includes('/') && path.split('/')[0] === paths[0].split('/')[0])
        ? paths[0].split('/')[0]
        : '';
    const all = dropped
      .map(({ file }, i) => ({ file, path: root ? paths[i].slice(root.length + 1) : paths[i] }))
      .filter(({ path }) => !baseName(path).startsWith('.'));
    const of = (ending: RegExp) => all.filter(({ path }) => ending.test(path));
    const audio = of(BROWSER_AUDIO_ENDINGS);
    const sfzs = of(/\.sfz$/i);
    const banks = of(/\.sf2$/i);
    const others = all.length - audio.length - sfzs.length - banks.length - of(/\.(txt|md|pdf|jpe?g|png|inc)$/i).length;
    if (all.length === 0) this.problems.push('there is no file in what was dropped');
    else if (others > 0)
      this.problems.push(
        `${others} ${others === 1 ? 'file is' : 'files are'} no audio that is known here, and stayed out`,
      );
    this.name ||= shortened(root || (audio.length === 1 ? baseName(audio[0].path).replace(/\.[^.]*$/, '') : ''));
    this.total = audio.length + sfzs.length + banks.length;
    this.done = 0;
    const byPath = new Map(audio.map(({ path, file }) => [path, file]));
    const recordings =
      sfzs.length > 0
        ? audio.map(({ path }) => ({ path, left: path, right: null }))
        : stereoPairs(audio.map(({ path }) => path));
    const fresh = recordings
      .sort((a, b) => naturalCompare(a.path, b.path))
      .map(({ path, left, right }): TrayFile => ({
        path,
        file: byPath.get(left)!,
        right: right === null ? null : byPath.get(right)!,
        state: 'waiting',
      }));
    this.total += fresh.length - audio.length;
    if (sfzs.length === 0)
      this.files = [...this.files.filter((old) => !fresh.some((file) => file.path === old.path)), ...fresh];
    this.tell();
    const looked = new Map<string, BroughtFile>();
    let next = 0;
    await Promise.all(
      Array.from({ length: AT_ONCE }, async () => {
        while (next < fresh.length && run === this.run) {
          const file = fresh[next++];
          const result = await this.look(file);
          if (run !== this.run) return;
          this.problems.push(...(result.brought?.warnings ?? []).map((warning) => `${result.path}: ${warning}`));
          if (result.brought) looked.set(result.path, result.brought);
          else if (sfzs.length > 0) this.problems.push(`${result.path}: ${result.problem}`);
          this.files = this.files.map((old) => (old === file ? result : old));
          this.step();
        }
      }),
    );
    if (run === this.run) this.fallBack();
    for (const sfz of sfzs) if (run === this.run) await this.addSfz(sfz, all, looked);
    for (const bank of banks) if (run === this.run) await this.addBank(bank);
    if (run === this.run && (this.options.layout === 'pitch' || this.options.list)) await this.hearPitches();
  }

  /** Zips are opened, as if the folders in them had been dropped. */
  private async unpacked(given: readonly DroppedFile[]): Promise<DroppedFile[]> {
    const zips = given.filter(({ path }) => /\.zip$/i.test(path));
    if (zips.length === 0) return [...given];
    const { filesOfZip } = await import('../../core/formats/zip');
    const opened = await Promise.all(
      zips.map(async ({ path, file }) => {
        try {
          return filesOfZip(new Uint8Array(await file.arrayBuffer())).map(({ path: inside, bytes }) => ({
            path: `${path.replace(/\.zip$/i, '')}/${inside}`,
            file: new File([bytes.slice()], baseName(inside)),
          }));
        } catch (error) {
          this.problems.push(`${path}: ${(error as Error).message}`);
          return [];
        }
      }),
    );
    return [...given.filter((each) => !zips.includes(each)), ...opened.flat()];
  }

  /** Names that say nothing of keys: the files go one after another instead, which the plan says. */
  private fallBack(): void {
    if (
      this.layoutChosen ||
      this.options.layout !== 'names' ||
      this.ready.length === 0 ||
      this.plan.rows.some((row) => row.placed)
    )
      return;
    this.options = { ...this.options, ...layoutWithoutKeys(this.ready.map((file) => file.brought.plan)) };
    this.told = 0;
    this.tell();
  }

  private async look(file: TrayFile): Promise<TrayFile> {
    try {
      return {
        ...file,
        file: null,
        state: 'ready',
        brought: await lookAt(file.path, file.file!, file.right ?? undefined),
      };
    } catch (error) {
      return { ...file, file: null, state: 'failed', problem: error instanceof Error ? error.message : String(error) };
    }
  }

  private async addSfz(
    { path, file }: DroppedFile,
    all: readonly DroppedFile[],
    looked: ReadonlyMap<string, BroughtFile>,
  ): Promise<void> {
    try {
      const text = await file.text();
      const base = folderOf(path);
      const texts = await Promise.all(
        all
          .filter((each) => !AUDIO_ENDINGS.test(each.path) && each.file.size < 4e6)
          .map(async (each) => [each.path, await each.file.text()] as [string, string]),
      );
      const files = new FolderIndex([...looked], base);
      const named = await soundLab.ask({ type: 'samplePaths', text, path: baseName(path), texts, base });
      const wanted = named.flatMap((sample) => {
        const found = files.find(sample);
        return found ? [[base ? `${base}/${sample}` : sample, found] as [string, BroughtFile]] : [];
      });
      const sound = await soundLab.ask({ type: 'sfz', text, path: baseName(path), texts, base, files: wanted });
      this.sounds = [...this.sounds, { ...sound, file: path, wanted: sound.zones.length > 0 }];
    } catch (error) {
      this.problems.push(`${path}: ${(error as Error).message}`);
    }
    this.step();
  }

  private async addBank({ path, file }: DroppedFile): Promise<void> {
    try {
      const sounds = await soundLab.ask({ type: 'soundFont', file });
      // Of a few presets all are wanted; of many, those that will be chosen.
      this.sounds = [
        ...this.sounds,
        ...sounds.map((sound) => ({
          ...sound,
          file: path,
          wanted: sound.zones.length > 0 && sounds.length <= FEW_PRESETS,
        })),
      ];
    } catch (error) {
      this.problems.push(`${path}: ${(error as Error).message}`);
    }
    this.step();
  }

  /** Listens for the pitch of every file that has not been listened to. */
  private async hearPitches(): Promise<void> {
    const run = this.run;
    const deaf = this.ready.filter((file) => file.brought.plan.pitch === undefined);
    this.total = deaf.length;
    this.done = 0;
    this.tell();
    await Promise.all(
      deaf.map(async (file) => {
        const pitch = await soundLab.ask({ type: 'pitch', sampleId: file.brought.sample.id }).catch(() => null);
        if (run !== this.run) return;
        this.files = this.files.map((old) =>
          old.path === file.path
            ? { ...old, brought: { ...file.brought, plan: { ...file.brought.plan, pitch } } }
            : old,
        );
        this.step();
      }),
    );
  }

  private step(): void {
    this.done = Math.min(this.total, this.done + 1);
    const now = performance.now();
    if (this.busy && now - this.told < TELL_MS) return;
    this.told = now;
    this.tell();
  }

  private tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }
}

const FEW_PRESETS = 8;
const AT_ONCE = 8;
/** Progress is told this often at the most; a thousand files would draw the page a thousand times otherwise. */
const TELL_MS = 60;
const BROWSER_RATE = 48000;

/**
 * Reads and measures an audio file, and keeps it by content; `right` is the right channel of a recording in two files.
 * Rejects with what is wrong.
 */
export async function lookAt(path: string, file: File, right?: File): Promise<BroughtFile> {
  const brought = await soundLab.ask({ type: 'look', file, right, path });
  if (brought !== 'browser') return brought;
  const { channelData, sampleRate } = await decodedByBrowser(file);
  return soundLab.ask(
    { type: 'decoded', channelData, sampleRate, path },
    channelData.map((channel) => channel.buffer as ArrayBuffer),
  );
}

async function decodedByBrowser(file: Blob): Promise<{ channelData: Float32Array[]; sampleRate: number }> {
  try {
    const buffer = await new OfflineAudioContext(1, 1, BROWSER_RATE).decodeAudioData(await file.arrayBuffer());
    return {
      channelData: Array.from({ length: buffer.numberOfChannels }, (_, c) => buffer.getChannelData(c).slice()),
      sampleRate: buffer.sampleRate,
    };
  } catch {
    throw new Error('the browser cannot decode this file: it is damaged, cut off or of another kind');
  }
}

export const tray = new Tray();
openTray.takeUp(tray);
