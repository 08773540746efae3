import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { api, ask, type Me } from "../api/client";
import { useMe } from "../api/hooks";
import { useEvents } from "../api/useEvents";
import { SignIn } from "../features/signin/SignIn";
import { Caught } from "./Caught";
import { Rail } from "./Rail";

const FindPage = lazy(() => import("../features/find/FindPage").then((m) => ({ default: m.FindPage })));
const NewPage = lazy(() => import("../features/reports/NewPage").then((m) => ({ default: m.NewPage })));
const ComposePage = lazy(() => import("../features/compose/ComposePage").then((m) => ({ default: m.ComposePage })));
const ReadPage = lazy(() => import("../features/compose/ComposePage").then((m) => ({ default: m.ReadPage })));
const BoardsPage = lazy(() => import("../features/boards/BoardsPage").then((m) => ({ default: m.BoardsPage })));
const BoardPage = lazy(() => import("../features/boards/BoardPage").then((m) => ({ default: m.BoardPage })));
const SettingsPage = lazy(() => import("../features/settings/SettingsPage").then((m) => ({ default: m.SettingsPage })));
const TargetsPage = lazy(() => import("../features/targets/TargetsPage").then((m) => ({ default: m.TargetsPage })));
const RecordsPage = lazy(() => import("../features/records/RecordsPage").then((m) => ({ default: m.RecordsPage })));
const RecordPage = lazy(() => import("../features/records/RecordPage").then((m) => ({ default: m.RecordPage })));

export function App() {
  const me = useMe();
  const place = useLocation().pathname;
  if (me.isPending) return null;
  if (!me.data) return <SignIn />;
  return <SignedIn me={me.data} place={place} />;
}

function SignedIn({ me, place }: { me: Me; place: string }) {
  useEvents();
  return (
    <div className="flex min-h-screen max-md:flex-col">
      <Rail me={me} />
      <main className="min-w-0 flex-1 px-6 py-4 max-md:px-3">
        <Caught key={place}>
          <Suspense fallback={<p className="text-ink2">Opening …</p>}>
            <Routes>
              <Route path="/" element={<Home />} />
              <Route path="/find" element={<FindPage />} />
              <Route path="/reports/new/:start" element={<ComposePage />} />
              <Route path="/reports/new" element={<NewPage />} />
              <Route path="/reports/:id" element={<ReadPage />} />
              <Route path="/reports/:id/edit" element={<ComposePage />} />
              <Route path="/dashboards" element={<BoardsPage />} />
              <Route path="/dashboards/:id" element={<BoardPage />} />
              <Route path="/records/:type" element={<RecordsPage />} />
              <Route path="/records/:type/:id" element={<RecordPage />} />
              <Route path="/targets" element={<TargetsPage />} />
              <Route path="/settings" element={<SettingsPage />} />
              <Route path="*" element={<Nowhere />} />
            </Routes>
          </Suspense>
        </Caught>
      </main>
    </div>
  );
}

/** Where one begins: on the team's dashboard, or where things are found. */
function Home() {
  const home = useQuery({ queryKey: ["home"], queryFn: () => ask(api.GET("/api/home")), retry: false });
  if (home.isPending) return null;
  return <Navigate to={home.data?.board ? `/dashboards/${home.data.board}` : "/find"} replace />;
}

function Nowhere() {
  return (
    <div className="pt-16 text-center">
      <h1 className="title text-2xl">There is nothing at this address</h1>
      <p className="mt-2 text-ink2">Choose where to go on the left.</p>
    </div>
  );
}
