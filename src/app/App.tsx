import { lazy, Suspense, useEffect } from 'react';
import { flushSync } from 'react-dom';
import { BrowserRouter, Navigate, Outlet, Route, Routes, useLocation, useNavigate, useParams } from 'react-router';
import { Opening } from './parts/Opening';
import { ViewGuard } from './parts/ViewGuard';
import { Notices } from './views/desk/Notices';
import { Shell } from './views/desk/Shell';
import { show } from './show/show';
import { useAppDispatch, useAppSelector } from './document/store';
import { deskSlice } from './hands/deskSlice';
import { patchBefore } from './document/inSight';

/** Loaded when it is opened first. */
const EmptyRig = lazy(async () => ({ default: (await import('./views/desk/EmptyRig')).EmptyRig }));

const SoundsView = lazy(async () => ({ default: (await import('./views/sounds/SoundsView')).SoundsView }));

const ControlView = lazy(async () => ({ default: (await import('./views/control/ControlView')).ControlView }));

const MixView = lazy(async () => ({ default: (await import('./views/mix/MixView')).MixView }));

const CheckView = lazy(async () => ({ default: (await import('./views/check/CheckView')).CheckView }));

const LayersView = lazy(async () => ({ default: (await import('./views/layers/LayersView')).LayersView }));

const StageView = lazy(async () => ({ default: (await import('./views/stage/StageView')).StageView }));

const HelpBubble = lazy(async () => ({ default: (await import('./parts/help/HelpBubble')).HelpBubble }));

const RigsSheet = lazy(async () => ({ default: (await import('./views/desk/RigsSheet')).RigsSheet }));

/** The patch that was in view last, or the first. */
function Home() {
  const rig = useAppSelector((state) => state.rig.rig);
  if (!rig) return <Opening />;
  const last = patchBefore(rig.id);
  const patch = rig.patches.find((candidate) => candidate.id === last) ?? rig.patches[0];
  return patch ? <Navigate to={`/patch/${patch.id}/layers`} replace /> : <EmptyRig />;
}

function PatchGate() {
  const { patchId } = useParams();
  const rig = useAppSelector((state) => state.rig.rig);
  if (!rig) return <Opening />;
  return rig.patches.some((patch) => patch.id === patchId) ? <Outlet /> : <Navigate to="/" replace />;
}

/** The show needs a rig with a patch. */
function StageGate() {
  const rig = useAppSelector((state) => state.rig.rig);
  if (!rig) return <Opening />;
  return rig.patches.length > 0 ? <StageView /> : <Navigate to="/" replace />;
}

function Frame() {
  const rigs = useAppSelector((state) => state.desk.sheet === 'rigs');
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  useEffect(() => {
    show.navigate = (patchId) => {
      const view = /^\/patch\/[^/]+\/([a-z]+)/.exec(location.pathname)?.[1] ?? 'layers';
      flushSync(() => void navigate(`/patch/${patchId}/${view}`));
    };
  }, [navigate]);
  return (
    <>
      <ViewGuard at={pathname}>
        <Suspense fallback={<Opening />}>
          <Outlet />
        </Suspense>
      </ViewGuard>
      {rigs && (
        <Suspense fallback={null}>
          <RigsSheet />
        </Suspense>
      )}
      <Notices />
      <Suspense fallback={null}>
        <HelpBubble onPage={(page) => dispatch(deskSlice.actions.handbookOpened(page))} />
      </Suspense>
    </>
  );
}

const routes = (
  <Route element={<Frame />}>
    <Route path="/" element={<Home />} />
    <Route path="/stage" element={<StageGate />} />
    <Route path="/patch/:patchId" element={<PatchGate />}>
      <Route element={<Shell />}>
        <Route path="layers" element={<LayersView />} />
        <Route path="sounds/:soundId?" element={<SoundsView />} />
        <Route path="control" element={<ControlView />} />
        <Route path="mix" element={<MixView />} />
        <Route path="check" element={<CheckView />} />
        <Route path="*" element={<Navigate to="layers" replace />} />
        <Route index element={<Navigate to="layers" replace />} />
      </Route>
    </Route>
    <Route path="*" element={<Navigate to="/" replace />} />
  </Route>
);

/** Another view, or another patch, is there with the press that asked for it: nothing waits behind other work. */
export const App = () => (
  <BrowserRouter useTransitions={false}>
    <Routes>{routes}</Routes>
  </BrowserRouter>
);
