import { inPieces, Pieces, readSpare, type SpareMessage } from '../../../core/remote/spare';
import type { Rig } from '../../../core/rig/schema';
import { InStep } from '../../../host/inStep';
import { rigSlice } from '../../document/rigSlice';
import { takeUp } from '../../document/rigs';
import { keepState, loadRig, saveRig } from '../../document/storage/database';
import { small, smallOfTab } from '../../document/storage/small';
import { store } from '../../document/store';
import { session } from '../../sound/session';
import { show, stepsOfShow } from '../show';
import { showSlice } from '../showSlice';
import { ALONE, spareState } from '../spareState';
import { AwayLine, keptPlace } from './awayLine';
import { Following } from './following';
import { Handover } from './handover';
import { Leading } from './leading';

const NAME = 'wavicle-machine';
const BY_ITSELF = 'wavicle-spare-takes-over';
const ACCEPTED = 'wavicle-spare-accepted';
/**
 * Nothing came for so long: the other machine is gone, or the way to it. Where the machine is there, but its page says
 * nothing, that page may be busy for a moment.
 */
const GONE_MS = 500,
  HELD_UP_MS = 2500;
const LOOK_MS = 25;

interface Line {
  say: (body: object) => void;
  end: () => void;
}

/**
 * Two machines in step. The page that offers the room is the main one, the other comes as its spare; either may lead. What
 * leads is heard and tells the other all it does; what follows does the same, mute, and can take over at any moment.
 */
class Spare {
  /** What this machine is called. */
  private ownName = small.get(NAME);
  get name(): string {
    return this.ownName ?? (this.id === 0 ? 'second machine' : 'main machine');
  }
  /** Whether this machine takes over by itself when nothing comes any more. */
  byItself = small.get(BY_ITSELF) === 'yes';
  private readonly inStep = new InStep(session.audio);
  private line: Line | null = null;
  /** The device of the room that it is; 0: this page is the spare. */
  private id = 0;
  private leading: Leading | null = null;
  private following: Following | null = null;
  private readonly pieces = new Pieces();
  private handover = new Handover();
  private watching: ReturnType<typeof setInterval> | undefined;

  constructor() {
    show.takeOver = () => this.takeOver();
    session.onPlayed = (event) => {
      // Whoever plays here for the first time since it took over lets go of what only the other machine held.
      if (spareState.now.role === 'leads' && (event.type === 'noteOn' || event.type === 'panic')) this.letGo();
      this.handover.played(event);
    };
  }

  setName(name: string): void {
    const called = name.trim().slice(0, 40);
    this.ownName = called === '' || called === this.name ? this.ownName : called;
    if (this.ownName !== null) small.set(NAME, this.ownName);
  }

  setByItself(on: boolean): void {
    this.byItself = on;
    small.set(BY_ITSELF, on ? 'yes' : 'no');
  }

  // The main machine: a device of its room came as a spare.

  joined(id: number, name: string, say: (body: object) => void, dismiss: () => void): void {
    if (this.line) this.lost();
    this.id = id;
    this.line = { say, end: dismiss };
    const accepted = smallOfTab.get(ACCEPTED) === String(id);
    this.met = null;
    spareState.set({ ...ALONE, line: 'open', other: name, offers: !accepted });
    if (accepted) this.greet();
  }

  left(id: number): void {
    if (id !== this.id || !this.line) return;
    this.lost();
    spareState.set({ line: 'lost' });
    this.gone(`“${spareState.now.other}” has ended`);
  }

  /** Lets the machine that offers itself follow. */
  accept(): void {
    smallOfTab.set(ACCEPTED, String(this.id));
    spareState.set({ offers: false });
    this.greet();
    if (this.met) this.meet(this.met.name, this.met.leads);
  }
  /** What the machine that offers itself has said of itself. */
  private met: Extract<SpareMessage, { type: 'hello' }> | null = null;

  // The spare

  join(address: string, port: number, code: string): void {
    void session.audio.start();
    const line = this.away(address, port);
    spareState.set({ ...ALONE, line: 'joining' });
    line.join(code, this.name);
  }

  /** Goes on as the spare that this tab was before it was loaded anew. Gives whether it was one. */
  resume(): boolean {
    const place = keptPlace();
    if (!place || this.line) return false;
    spareState.set({ ...ALONE, line: 'joining' });
    this.away(place.address, place.port).comeBack(place.token);
    return true;
  }

  private away(address: string, port: number): AwayLine {
    this.line?.end();
    const line = new AwayLine(address, port);
    this.id = 0;
    this.line = line;
    line.onOpen = () => {
      spareState.set({ line: 'open', problem: '' });
      this.greet();
    };
    line.onHeard = (body) => this.hear(body);
    line.onAlive = () => {
      this.silentMs = 0;
    };
    line.onGone = () => this.gone(`“${spareState.now.other}” has ended`);
    line.onLost = (why) => {
      if (why === '') {
        spareState.set({ line: 'lost' });
        if (this.leading) this.stopLeading();
        return;
      }
      this.end(why);
    };
    return line;
  }

  // Both

  private get isMain(): boolean {
    return this.id !== 0;
  }

  /** Whether this machine is heard: a main machine is, unless it was loaded anew and has played nothing yet. */
  private get leads(): boolean {
    if (this.following) return false;
    return spareState.now.role === 'leads' || (this.isMain && session.audio.state === 'running');
  }

  private greet(): void {
    this.say({ type: 'hello', name: this.name, leads: this.leads });
  }

  hear(body: object): void {
    const message = readSpare(body);
    const whole = message && this.pieces.hear(message);
    this.silentMs = this.heldUpMs = 0;
    if (!whole) return;
    if (spareState.now.offers) {
      if (whole.type === 'hello') this.met = whole;
      return;
    }
    if (whole.type === 'hello') return this.meet(whole.name, whole.leads);
    if (whole.type === 'took') return this.follow();
    if (this.following) this.following.hear(whole as never);
    else this.leading?.hear(whole);
  }

  private meet(name: string, theyLead: boolean): void {
    const { leads } = this;
    spareState.set({ other: name, both: leads && theyLead });
    if (leads && theyLead) return;
    // Who is met anew is told everything anew. Where neither leads yet, the main machine does.
    if (leads || (this.isMain && !theyLead)) this.beginToLead();
    else this.follow();
  }

  private beginToLead(): void {
    this.stopLeading();
    this.stopFollowing();
    spareState.set({ role: 'leads', both: false, tookOver: '', since: null, why: 'it gets the rig' });
    this.leading = new Leading(session, this.inStep, (message) => this.say(message));
  }

  private follow(): void {
    this.stopLeading();
    this.stopFollowing();
    this.handover = new Handover();
    this.inStep.hush();
    store.dispatch(rigSlice.actions.ledByChanged(spareState.now.other || 'the other machine'));
    spareState.set({ role: 'follows', both: false, since: null, why: 'it gets the rig' });
    this.following = new Following({
      session,
      inStep: this.inStep,
      say: (message) => this.say(message),
      handover: this.handover,
      opened: (rig) => this.opened(rig),
      went: (stepId, patchId) => went(stepId, patchId),
      failed: (why) => spareState.set({ since: null, why }),
    });
    clearInterval(this.watching);
    this.silentMs = this.heldUpMs = 0;
    this.watchedAt = performance.now();
    this.watching = setInterval(() => this.watch(), LOOK_MS);
  }

  /** Begins anew in step at once, whatever sounds on the machine that leads. */
  beginNow(): void {
    void this.leading?.beginNow();
  }

  /** This machine leads from now on, and is heard. */
  takeOver(why = ''): void {
    const { following } = this;
    if (spareState.now.both) {
      this.say({ type: 'took' });
      return this.beginToLead();
    }
    if (!following) return;
    this.stopFollowing();
    this.inStep.lead();
    session.lead();
    this.goOnWithTake(following);
    this.say({ type: 'took' });
    this.beginToLead();
    spareState.set({ tookOver: why });
    if (spareState.now.line !== 'open') this.stopLeading();
  }

  /** A take that played there goes on here. Keys that it holds are its own: nobody has to let go of them. */
  private goOnWithTake({ score, plays }: Following): void {
    const {
      takes,
      audio: { context },
    } = session;
    const { steps } = this.inStep;
    if (!steps || !context || !score || !plays) return;
    takes.load(score);
    takes.goOn(plays.seconds + ((steps.blocks - plays.block) * 128) / context.sampleRate, plays.looped);
    for (const event of takes.holds)
      if (event.type === 'noteOn') this.handover.told({ ...event, type: 'noteOff', velocity: 64 });
  }

  /** Whether something sounds on that only the other machine held. */
  get goesOn(): boolean {
    return this.handover.goesOn;
  }

  /** Lets go of what only the other machine held. */
  letGo(): void {
    for (const event of this.handover.letGo()) session.play(event);
  }

  private watch(): void {
    const now = performance.now();
    // Where this page was held up itself, what was said meanwhile waits to be heard.
    const passed = Math.min(now - this.watchedAt, 4 * LOOK_MS);
    this.watchedAt = now;
    this.silentMs += passed;
    this.heldUpMs += passed;
    const { since, other } = spareState.now;
    const isSilent = !this.isMain && this.silentMs > GONE_MS;
    const isGone = isSilent || this.heldUpMs > HELD_UP_MS;
    spareState.set({ silent: isGone });
    if (!isGone) this.wasInStep = since !== null;
    else if (isSilent) this.gone(`nothing came from the machine of “${other}” for half a second`);
    else this.gone(`the page of “${other}” said nothing for ${HELD_UP_MS / 1000} s`);
  }

  /** The other is gone: where that was chosen, what was in step goes on here. */
  private gone(why: string): void {
    if (!this.byItself || !this.following || !this.wasInStep) return;
    this.wasInStep = false;
    this.takeOver(why);
  }
  private wasInStep = false;
  private silentMs = 0;
  private heldUpMs = 0;
  private watchedAt = 0;

  private stopLeading(): void {
    this.leading?.end();
    this.leading = null;
  }

  private stopFollowing(): void {
    this.following?.end();
    this.following = null;
    clearInterval(this.watching);
    spareState.set({ silent: false });
    store.dispatch(rigSlice.actions.ledByChanged(''));
  }

  private lost(): void {
    this.stopLeading();
    this.line = null;
  }

  /** Ends it: this machine plays by itself. */
  end(problem = ''): void {
    const { line } = this;
    this.line = null;
    line?.end();
    this.stopLeading();
    if (this.following) {
      this.stopFollowing();
      this.inStep.lead();
      session.lead();
      // What the other machine plays is not of this one.
      session.panic();
    }
    smallOfTab.remove(ACCEPTED);
    spareState.set({ ...ALONE, problem });
  }

  /** The rig of the machine that leads becomes the one that is open here; what was open under its id is kept as it was. */
  private async opened(rig: Rig): Promise<void> {
    const { rig: here } = store.getState().rig;
    // The main machine has it already: what was edited elsewhere is one more step there.
    if (here?.id === rig.id && (this.isOpen || this.isMain)) {
      store.dispatch(rigSlice.actions.led(rig));
      return;
    }
    this.isOpen = true;
    const before = await loadRig(rig.id).catch(() => undefined);
    if (before) await keepState(before, `before it played along for ${spareState.now.other}`);
    await saveRig(rig);
    await takeUp(rig);
  }
  private isOpen = false;

  private say(message: SpareMessage): void {
    for (const piece of inPieces(message)) this.line?.say(piece);
  }
}

/** Shows what plays on the other machine. */
function went(stepId: string | null, patchId: string | null): void {
  const { rig } = store.getState().rig;
  if (!rig || patchId === null) return;
  const steps = stepsOfShow(rig);
  const step =
    steps.find(({ id, patch }) => id === stepId && patch?.id === patchId) ??
    steps.find(({ patch }) => patch?.id === patchId);
  const { actions } = showSlice;
  if (step) store.dispatch(actions.stepSet(step.id));
  else if (rig.patches.some(({ id }) => id === patchId)) store.dispatch(actions.asideSet(patchId));
}

export const spare = new Spare();
