import { DropdownMenu } from 'radix-ui';
import { useEffect, useRef } from 'react';
import type { Sound } from '../../../core/rig/schema';
import { bringInDropped } from '../../jobs/bringIn';
import { droppedFiles } from '../../document/droppedFiles';
import { exportSoundFiles } from '../../jobs/files';
import { RecordInput } from './RecordInput';
import { openDraws } from '../desk/DrawsSheet';
import { tray } from '../../jobs/tray';

/** What the Sounds view does, at the foot: bring in, and send out. */
export function SoundActions({ sound }: { sound: Sound | undefined }) {
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  // React knows no such attribute.
  useEffect(() => {
    folder.current?.setAttribute('webkitdirectory', '');
  }, []);
  const input = (ref: typeof files, label: string, accept?: string) => (
    <input
      ref={ref}
      type="file"
      multiple
      accept={accept}
      className="hidden"
      aria-label={label}
      tabIndex={-1}
      onChange={(event) => {
        const { target } = event;
        void droppedFiles(event).then((dropped) => {
          target.value = '';
          return bringInDropped(dropped);
        });
      }}
    />
  );
  return (
    <>
      {tray.files.length + tray.sounds.length > 0 && !tray.open && (
        <button className="button" onClick={() => tray.show()}>
          Back to what was brought in
        </button>
      )}
      {sound && sound.kind !== 'multisample' && (
        <button className="button" onClick={openDraws}>
          Chance …
        </button>
      )}
      <button className="button" onClick={() => files.current?.click()}>
        Bring in files …
      </button>
      <button className="button" onClick={() => folder.current?.click()}>
        Bring in a folder …
      </button>
      <RecordInput />
      <button className="button" onClick={() => void bringInDropped('demo')}>
        Try the demo folder
      </button>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="button" disabled={!sound || sound.zones.length === 0}>
          Send out …
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={4} className="panel min-w-60 p-1.5!">
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => {
                if (sound) void exportSoundFiles(sound, 'sfz');
              }}
            >
              SFZ with its samples (zip)
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => {
                if (sound) void exportSoundFiles(sound, 'sf2');
              }}
            >
              SoundFont 2
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => {
                if (sound) void exportSoundFiles(sound, 'wav');
              }}
            >
              WAV files with roots and loops (zip)
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className="menu-item"
              onSelect={() => {
                if (sound) void exportSoundFiles(sound, 'flac');
              }}
            >
              FLAC files (zip)
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {input(files, 'Files to bring in', '.wav,.wave,.aif,.aiff,.flac,.ogg,.mp3,.sfz,.sf2')}
      {input(folder, 'Folder to bring in')}
    </>
  );
}
