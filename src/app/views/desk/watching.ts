import { smallOfTab } from '../../document/storage/small';
import { OFFERED } from '../../show/offered';
import { offline } from '../../show/offline';
import { leaving } from '../../show/outputs';
import { troubles } from '../../show/troubles';

/** Begins to watch what a show needs: outputs, troubles, being offline, paired devices. */
export function watchShow(): void {
  leaving.start();
  troubles.start();
  offline.start();
  if (smallOfTab.get(OFFERED)) void import('../../show/pairing').then(({ pairing }) => pairing.resume());
}
