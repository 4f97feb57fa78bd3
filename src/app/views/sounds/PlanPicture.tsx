import { useEffect, useMemo, useRef, type PointerEvent } from 'react';
import type { Plan } from '../../../core/mapping/planModel';
import { zoneOfRow } from '../../../core/rig/edits/plans';
import { prepared, themeColour, writeVelocities } from '../../parts/canvas';
import { useWidth, type KeyScale } from '../../parts/keyScale';
import { useAppSelector } from '../../document/store';
import { tray } from '../../jobs/tray';
import { boxOf, drawGround, drawZone, yOfVelocity, type MapSpace } from './mapDrawing';

/** The plan as it would lie on the keys and velocities. */
export function PlanPicture({
  plan,
  scale,
  chosen,
  onChoose,
}: {
  plan: Plan | null;
  scale: KeyScale;
  chosen: number;
  onChoose: (file: number) => void;
}) {
  const [box, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useAppSelector((state) => state.settings.theme);
  const height = box.current?.getBoundingClientRect().height ?? 0;
  const zones = useMemo(
    () =>
      plan?.rows
        .filter((row) => row.placed)
        .map((row) => ({ row, zone: zoneOfRow(row, tray.ready[row.file].brought.plan) })) ?? [],
    [plan],
  );
  const space = useMemo<MapSpace>(() => ({ scale, height }), [scale, height]);
  useEffect(() => {
    const context = prepared(canvas, width, height);
    if (!context) return;
    const [sheet, line, ink, shade] = ['--sheet', '--line', '--ink', '--indigo'].map(themeColour);
    drawGround(context, space, height, sheet, line);
    const ordered = [...zones].sort((a, b) => Number(a.row.file === chosen) - Number(b.row.file === chosen));
    for (const { row, zone } of ordered)
      drawZone(context, zone, space, {
        colour: shade,
        ink,
        depth: (zone.velocity.low + zone.velocity.high) / 254,
        chosen: row.file === chosen,
        hovered: false,
        root: zone.root,
      });
    writeVelocities(context, [127, 1], 4, height, (velocity) => yOfVelocity(velocity, height));
  }, [zones, space, width, height, chosen, theme]);
  const press = (event: PointerEvent) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - left;
    const y = event.clientY - top;
    const here = zones
      .filter(({ zone }) => {
        const { x0, x1, y0, y1 } = boxOf(zone, space);
        return x >= x0 && x < x1 && y >= y0 && y < y1;
      })
      .map(({ row }) => row.file);
    if (here.length > 0) onChoose(here[(here.indexOf(chosen) + 1) % here.length]);
  };
  return (
    <div
      ref={box}
      role="img"
      aria-label={`The plan: ${zones.length} files on the keys; the table below holds the same`}
      className="relative min-h-0 overflow-hidden border-b-[1.5px] border-ink"
      data-testid="plan-picture"
      onPointerDown={press}
    >
      <canvas ref={canvas} className="absolute inset-0" />
      {!plan && (
        <p className="absolute inset-0 grid place-items-center text-faint">
          {tray.busy ? 'The plan appears when the files are read.' : 'Nothing that can be placed has come in.'}
        </p>
      )}
    </div>
  );
}
