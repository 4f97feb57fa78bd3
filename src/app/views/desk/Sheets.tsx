import { lazy, Suspense } from 'react';
import type { Patch } from '../../../core/rig/schema';
import { useAppSelector } from '../../document/store';
import { BounceSheet } from './BounceSheet';
import { ControllersSheet } from './ControllersSheet';
import { DrawsSheet } from './DrawsSheet';
import { EditsSheet } from './EditsSheet';
import { HandOverSheet } from './HandOverSheet';
import { HelpSheet } from './HelpSheet';
import { MonitorSheet } from './MonitorSheet';
import { PasteSheet } from './PasteSheet';
import { ReceivesSheet } from './ReceivesSheet';
import { SearchSheet } from './SearchSheet';
import { SettingsSheet } from './SettingsSheet';
import { StandIns } from './StandIns';
import { TemplatesSheet } from './TemplatesSheet';

/** Its text and pictures load when it is opened. */
const HandbookSheet = lazy(async () => ({ default: (await import('./HandbookSheet')).HandbookSheet }));

const TuningSheet = lazy(async () => ({ default: (await import('./TuningSheet')).TuningSheet }));
const OutsideSheet = lazy(async () => ({ default: (await import('./outside/OutsideSheet')).OutsideSheet }));
const OutputsSheet = lazy(async () => ({ default: (await import('./outputs/OutputsSheet')).OutputsSheet }));
const StartSheet = lazy(async () => ({ default: (await import('./StartSheet')).StartSheet }));
const StoreSheet = lazy(async () => ({ default: (await import('./StoreSheet')).StoreSheet }));

/** The sheet beside the view that is open, and the drawer of stand-ins. */
export function Sheets({ patch }: { patch: Patch }) {
  const { sheet, standIns } = useAppSelector((state) => state.desk);
  const rig = useAppSelector((state) => state.rig.rig)!;
  return (
    <>
      {sheet === 'help' && <HelpSheet />}
      {sheet === 'handbook' && (
        <Suspense fallback={null}>
          <HandbookSheet />
        </Suspense>
      )}
      {sheet === 'settings' && <SettingsSheet />}
      {sheet === 'monitor' && <MonitorSheet />}
      {sheet === 'controllers' && <ControllersSheet />}
      {sheet === 'receives' && <ReceivesSheet patch={patch} />}
      {sheet === 'paste' && <PasteSheet patch={patch} />}
      {sheet === 'templates' && <TemplatesSheet patch={patch} />}
      {sheet === 'start' && (
        <Suspense fallback={null}>
          <StartSheet rig={rig} patch={patch} />
        </Suspense>
      )}
      {sheet === 'store' && (
        <Suspense fallback={null}>
          <StoreSheet patch={patch} />
        </Suspense>
      )}
      {sheet === 'tuning' && (
        <Suspense fallback={null}>
          <TuningSheet rig={rig} patch={patch} />
        </Suspense>
      )}
      {sheet === 'outside' && (
        <Suspense fallback={null}>
          <OutsideSheet rig={rig} patch={patch} />
        </Suspense>
      )}
      {sheet === 'outputs' && (
        <Suspense fallback={null}>
          <OutputsSheet rig={rig} />
        </Suspense>
      )}
      {sheet === 'edits' && <EditsSheet />}
      {sheet === 'draws' && <DrawsSheet patch={patch} />}
      {sheet === 'search' && <SearchSheet patch={patch} />}
      {sheet === 'bounce' && <BounceSheet rig={rig} patch={patch} />}
      {sheet === 'handOver' && <HandOverSheet rig={rig} patch={patch} />}
      {standIns && <StandIns />}
    </>
  );
}
