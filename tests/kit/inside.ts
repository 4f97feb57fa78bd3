import type { Engine } from '../../src/core/engine/engine';
import type { Kernel } from '../../src/core/dsp/kernel/kernel';
import type { PlaceState } from '../../src/core/engine/mix/places';
import type { Voice } from '../../src/core/engine/voice/voice';

/**
 * What an engine keeps to itself, for tests that must look at, or break, what nothing else tells. The one place that
 * knows where it lies.
 */
export function insideOf(engine: Engine): { voices: readonly Voice[]; kernel: Kernel; places: readonly PlaceState[] } {
  const { pool, rendering, patches } = engine as unknown as {
    pool: { all: readonly Voice[] };
    rendering: { kernel: Kernel };
    patches: { present: { mix: unknown } | null };
  };
  const mix = patches.present?.mix as { layout: { places: readonly PlaceState[] } } | undefined;
  return { voices: pool.all, kernel: rendering.kernel, places: mix?.layout.places ?? [] };
}
