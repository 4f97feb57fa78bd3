import { lazy, Suspense } from 'react';
import { createBrowserRouter, Navigate, Outlet, useParams, useRouteError } from 'react-router';
import { RouterProvider } from 'react-router/dom';
import { EmptyRig } from './views/desk/EmptyRig';
import { Notices } from './views/desk/Notices';
import { Shell } from './views/desk/Shell';
import { show } from './show/show';
import { useAppDispatch, useAppSelector } from './document/store';
import { deskSlice } from './hands/deskSlice';
import { patchBefore } from './document/inSight';

/** Loaded when it is opened first. */
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
  if (!rig) return <Loading />;
  const last = patchBefore(rig.id);
  const patch = rig.patches.find((candidate) => candidate.id === last) ?? rig.patches[0];
  return patch ? <Navigate to={`/patch/${patch.id}/layers`} replace /> : <EmptyRig />;
}

function PatchGate() {
  const { patchId } = useParams();
  const rig = useAppSelector((state) => state.rig.rig);
  if (!rig) return <Loading />;
  return rig.patches.some((patch) => patch.id === patchId) ? <Outlet /> : <Navigate to="/" replace />;
}

/** The show needs a rig with a patch. */
function StageGate() {
  const rig = useAppSelector((state) => state.rig.rig);
  if (!rig) return <Loading />;
  return rig.patches.length > 0 ? (
    <Suspense fallback={<Loading />}>
      <StageView />
    </Suspense>
  ) : (
    <Navigate to="/" replace />
  );
}

const Loading = () => (
  <div className="grid h-full place-items-center text-faint" role="status">
    Opening …
  </div>
);

function Frame() {
  const rigs = useAppSelector((state) => state.desk.sheet === 'rigs');
  const dispatch = useAppDispatch();
  return (
    <>
      <Outlet />
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

/** A view that broke takes nothing with it: the sound goes on and every edit is kept. */
const Broken = () => (
  <main className="grid h-full place-items-center">
    <div role="alert" className="panel flex max-w-96 flex-col items-start gap-3">
      <h1 className="text-lg font-bold">This view stopped working</h1>
      <p>{String((useRouteError() as Error | undefined)?.message ?? 'Nobody knows why.')}</p>
      <p>The sound goes on, and your edits are kept.</p>
      <button className="button" onClick={() => location.reload()}>
        Load it again
      </button>
    </div>
  </main>
);

const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <Broken />,
    children: [
      { path: '/', element: <Home /> },
      { path: '/stage', element: <StageGate /> },
      {
        path: '/patch/:patchId',
        element: <PatchGate />,
        children: [
          {
            element: <Shell />,
            children: [
              {
                path: 'layers',
                element: (
                  <Suspense fallback={<Loading />}>
                    <LayersView />
                  </Suspense>
                ),
              },
              {
                path: 'sounds/:soundId?',
                element: (
                  <Suspense fallback={<Loading />}>
                    <SoundsView />
                  </Suspense>
                ),
              },
              {
                path: 'control',
                element: (
                  <Suspense fallback={<Loading />}>
                    <ControlView />
                  </Suspense>
                ),
              },
              {
                path: 'mix',
                element: (
                  <Suspense fallback={<Loading />}>
                    <MixView />
                  </Suspense>
                ),
              },
              {
                path: 'check',
                element: (
                  <Suspense fallback={<Loading />}>
                    <CheckView />
                  </Suspense>
                ),
              },
              { path: '*', element: <Navigate to="layers" replace /> },
              { index: true, element: <Navigate to="layers" replace /> },
            ],
          },
        ],
      },
      { path: '*', element: <Navigate to="/" replace /> },
    ],
  },
]);

show.navigate = (patchId) => {
  const view = /^\/patch\/[^/]+\/([a-z]+)/.exec(location.pathname)?.[1] ?? 'layers';
  void router.navigate(`/patch/${patchId}/${view}`, { flushSync: true });
};

export const App = () => <RouterProvider router={router} />;
