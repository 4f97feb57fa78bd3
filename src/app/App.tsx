import { Suspense, useEffect } from 'react';
import { flushSync } from 'react-dom';
import { BrowserRouter, Navigate, Outlet, Route, Routes, useLocation, useNavigate, useParams } from 'react-router';
import { late } from './parts/late';
import { Opening } from './parts/Opening';
import { ViewGuard } from './parts/ViewGuard';
import { Notices } from './views/desk/Notices';
import { Shell } from './views/desk/Shell';
import { show } from './show/show';
import { useAppDispatch, useAppSelector } from './document/store';
import { deskSlice } from './hands/deskSlice';
import { patchBefore } from './document/inSight';

/** Loaded when it is opened first. */
const EmptyRig = late(
  () => import('./views/desk/EmptyRig'),
  (there) => there.EmptyRig,
);

const SoundsView = late(
  () => import('./views/sounds/SoundsView'),
  (there) => there.SoundsView,
);

const ControlView = late(
  () => import('./views/control/ControlView'),
  (there) => there.ControlView,
);

const MixView = late(
  () => import('./views/mix/MixView'),
  (there) => there.MixView,
);

const CheckView = late(
  () => import('./views/check/CheckView'),
  (there) => there.CheckView,
);

const LayersView = late(
  () => import('./views/layers/LayersView'),
  (there) => there.LayersView,
);

const StageView = late(
  () => import('./views/stage/StageView'),
  (there) => there.StageView,
);

const HelpBubble = late(
  () => import('./parts/help/HelpBubble'),
  (there) => there.HelpBubble,
);

const RigsSheet = late(
  () => import('./views/desk/RigsSheet'),
  (there) => there.RigsSheet,
);

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
  return (
    <>
      <Suspense fallback={<Opening />}>
        <Outlet />
      </Suspense>
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

/** Goes where the show goes, also where what is in view broke: with the next step it is tried again. */
function Guarded() {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const step = useAppSelector((state) => state.show.stepId);
  useEffect(() => {
    show.navigate = (patchId) => {
      const view = /^\/patch\/[^/]+\/([a-z]+)/.exec(location.pathname)?.[1] ?? 'layers';
      flushSync(() => void navigate(`/patch/${patchId}/${view}`));
    };
  }, [navigate]);
  return (
    <ViewGuard at={`${pathname} ${step}`}>
      <Routes>{routes}</Routes>
    </ViewGuard>
  );
}

/** Another view, or another patch, is there with the press that asked for it: nothing waits behind other work. */
export const App = () => (
  <BrowserRouter useTransitions={false}>
    <Guarded />
  </BrowserRouter>
);
