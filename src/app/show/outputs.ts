import { deviceWanted, outputDevices } from '../../host/outputDevices';
import { notice, store } from '../document/store';
import { session } from '../sound/session';

/** Sees to it that sound leaves where it was chosen: by the rig its pairs and click, by this machine device and channels. */
class Leaving {
  private seen: unknown[] = [];
  /** The device that was wanted was there the last time. */
  private wasThere = true;

  start(): void {
    store.subscribe(() => this.look());
    navigator.mediaDevices?.addEventListener?.('devicechange', () => void this.findDevice());
    this.look();
  }

  private look(): void {
    const {
      rig: { rig },
      settings: { channels, device, latency, input },
      show: { onStage },
    } = store.getState();
    const now = [rig?.pairs, rig?.click, channels, device, latency, onStage, input];
    if (now.every((each, i) => each === this.seen[i])) return;
    const [, , , deviceBefore, latencyBefore] = this.seen;
    const isFirst = this.seen.length === 0;
    this.seen = now;
    if (rig) {
      session.pairs.follow(rig, channels);
      // Only who said so hears it before an audience.
      if (onStage && !rig.click.stage && session.pairs.clicks) session.pairs.setClicks(false);
    }
    void session.live.use(input);
    if (isFirst || device !== deviceBefore || latency !== latencyBefore) void this.findDevice();
  }

  /** The device that is wanted plays where it is there, that of the system where it is not. */
  private async findDevice(): Promise<void> {
    const { device, latency } = store.getState().settings;
    if (!device) {
      this.wasThere = true;
      return session.audio.useDevice('', latency);
    }
    const found = deviceWanted(await outputDevices(), device);
    session.audio.useDevice(found?.id ?? '', latency);
    if (!found && this.wasThere)
      tell(`The sound device “${device.name}” is not there: that of the system plays until it is back.`);
    else if (found && !this.wasThere) tell(`“${device.name}” is back, and plays again.`);
    this.wasThere = found !== undefined;
  }
}

const tell = (text: string) => store.dispatch(notice('info', text, 'output device'));

export const leaving = new Leaving();
