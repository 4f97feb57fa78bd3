import { Search } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { Layer, Patch } from '../../../../core/rig/schema';
import { BrowserPanel } from '../SoundBrowser';

/**
 * Chooses a sound in its place: arrows step through candidates inside the layer, under held notes and beside everything
 * else; Enter keeps, Escape goes back.
 */
export function SoundChooser({ patch, layer }: { patch: Patch; layer: Layer }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className="button-bare h-6!"
        aria-label="Browse sounds"
        title="Step through sounds in this layer while it plays"
      >
        <Search size={14} />
      </Popover.Trigger>
      <BrowserPanel patch={patch} at={{ to: 'layer', layerId: layer.id }} onDone={() => setOpen(false)} />
    </Popover.Root>
  );
}
