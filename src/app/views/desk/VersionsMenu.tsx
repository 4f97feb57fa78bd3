import { Popover } from 'radix-ui';
import { Suspense } from 'react';
import type { Patch } from '../../../core/rig/schema';
import { late } from '../../parts/late';
import { ABOUT_BUTTON } from './patchButtons';

/** Loaded when it is opened. */
const AboutVersions = late(
  () => import('./AboutVersions'),
  (there) => there.AboutVersions,
);

interface Props {
  patch: Patch;
  onKeep: () => void;
  /** Its button was pressed before it was there. */
  pressed: boolean;
}

/** What is told of the versions of a patch, and done with them. */
export const VersionsMenu = ({ patch, onKeep, pressed }: Props) => (
  <Popover.Root defaultOpen={pressed}>
    <Popover.Trigger {...ABOUT_BUTTON}>…</Popover.Trigger>
    <Popover.Portal>
      <Popover.Content
        side="bottom"
        align="start"
        sideOffset={6}
        collisionPadding={8}
        className="panel w-[400px]"
        aria-label="About the versions"
      >
        <Suspense fallback={null}>
          <AboutVersions patch={patch} onKeep={onKeep} />
        </Suspense>
      </Popover.Content>
    </Popover.Portal>
  </Popover.Root>
);
