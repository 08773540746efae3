import { memo, useEffect } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import type { Me } from "../api/client";
import { useMe, useSchema } from "../api/hooks";
import { idle } from "../api/idle";
import { seeAs, seenAs } from "../api/seeAs";
import { useEvents } from "../api/useEvents";
import { SignIn } from "../features/signin/SignIn";
import { writeFiguresAs } from "../ui/figures";
import { useHelp } from "../ui/help";
import { later } from "../ui/later";
import { useArrival } from "../ui/useArrival";
import { Caught } from "./Caught";
import { Log } from "./Log";
import { Palette } from "./Palette";
import { Rail } from "./Rail";

const FindPage = later(() => import("../features/find/FindPage").then((m) => m.FindPage));
const NewPage = later(() => import("../features/reports/NewPage").then((m) => m.NewPage));
const ComposePage = later(() => import("../features/compose/ComposePage").then((m) => m.ComposePage));
const ReadPage = later(() => import("../features/compose/ComposePage").then((m) => m.ReadPage));
const BoardsPage = later(() => import("../features/boards/BoardsPage").then((m) => m.BoardsPage));
const BoardPage = later(() => import("../features/boards/BoardPage").then((m) => m.BoardPage));
const SettingsPage = later(() => import("../features/settings/SettingsPage").then((m) => m.SettingsPage));
const TargetsPage = later(() => import("../features/targets/TargetsPage").then((m) => m.TargetsPage));
const LeavePage = later(() => import("../features/inbox/LeavePage").then((m) => m.LeavePage));
const InboxPage = later(() => import("../features/inbox/InboxPage").then((m) => m.InboxPage));
const SendsPage = later(() => import("../features/sends/SendsPage").then((m) => m.SendsPage));
const KeptPage = later(() => import("../features/kept/KeptPage").then((m) => m.KeptPage));
const KeptResultsPage = later(() => import("../features/kept/KeptPage").then((m) => m.KeptResultsPage));
const ListPage = later(() => import("../features/lists/ListPage").then((m) => m.ListPage));
const RecordPage = later(() => import("../features/records/RecordPage").then((m) => m.RecordPage));

const HomePage = later(() => import("../features/home/HomePage").then((m) => m.HomePage));
const TwinsPage = later(() => import("../features/twins/TwinsPage").then((m) => m.TwinsPage));
const BeginPage = later(() => import("../features/setup/BeginPage").then((m) => m.BeginPage));
const KeyPage = later(() => import("../features/setup/KeyPage").then((m) => m.KeyPage));
const PeoplePage = later(() => import("../features/people/PeoplePage").then((m) => m.PeoplePage));
const BringInPage = later(() => import("../features/bringin/BringInPage").then((m) => m.BringInPage));
const ShapePage = later(() => import("../features/shape/ShapePage").then((m) => m.ShapePage));
const SecondFactor = later(() => import("../features/me/SecondFactor").then((m) => m.SecondFactor));
const Help = later(() => import("../features/help/Help").then((m) => m.Help));
const MePage = later(() => import("../features/me/MePage").then((m) => m.MePage));

export function App() {
  const me = useMe();
  const place = useLocation().pathname;
  if (place === "/key") return <KeyPage />;
  if (place === "/leave") return <LeavePage />;
  if (me.isPending) return null;
  if (place === "/begin") return <BeginPage me={me.data} />;
  if (!me.data && seenAs()) return <Unseen />;
  if (!me.data) return <SignIn />;
  if (me.data.mustFactor) return <MustFactor />;
  return <SignedIn me={me.data} place={place} />;
}

/** Whom one wanted to see it as cannot sign in any more, or one may not: back to one's own. */
function Unseen() {
  useEffect(() => seeAs(undefined), []);
  return null;
}

/** Where everyone signs in with a code, it is set up before anything else. */
function MustFactor() {
  useArrival("/me");
  return (
    <main id="content" className="mx-auto flex min-h-screen w-full max-w-[620px] flex-col justify-center px-5 py-8">
      <h1 className="title mb-3 text-2xl">One thing more to sign in</h1>
      <SecondFactor must />
    </main>
  );
}

/** Loads what is opened most while nothing else is to be done, so that it is there when it is opened. */
function useReady() {
  useEffect(() => {
    idle(() => {
      // What cannot be loaded now is asked for again when it is needed.
      for (const load of [() => import("../chart/engine"), BoardPage.ready, ReadPage.ready])
        load().catch(() => undefined);
    });
  }, []);
}

/** The screens of somebody, drawn anew where another one is opened, not where one and the same says something else. */
const SignedIn = memo(function SignedIn({ me, place }: { me: Me; place: string }) {
  const schema = useSchema();
  if (schema) writeFiguresAs(schema.figures, schema.days);
  useEvents();
  useReady();
  useArrival(place);
  const help = useHelp();
  return (
    <div className="flex min-h-screen max-md:flex-col">
      <a href="#content" className="skip">
        Skip to the content
      </a>
      {seenAs() && <SeenAs name={me.name} />}
      <Rail me={me} place={place} />
      <Palette me={me} />
      <Log />
      {help && <Help page={help} />}
      <main id="content" tabIndex={-1} className="min-w-0 flex-1 px-6 py-4 max-md:px-3">
        <Caught key={place}>
          <Routes>
            <Route path="/" element={<Begin me={me} />} />
            <Route path="/find" element={<FindPage />} />
            <Route path="/reports/new/:start" element={<ComposePage />} />
            <Route path="/reports/new" element={<NewPage />} />
            <Route path="/reports/:id" element={<ReadPage />} />
            <Route path="/reports/:id/edit" element={<ComposePage />} />
            <Route path="/dashboards" element={<BoardsPage />} />
            <Route path="/dashboards/:id" element={<BoardPage />} />
            <Route path="/inbox" element={<InboxPage />} />
            <Route path="/deliveries" element={<SendsPage />} />
            <Route path="/kept" element={<KeptResultsPage />} />
            <Route path="/kept/:id" element={<KeptPage />} />
            <Route path="/records/:type" element={<ListPage />} />
            <Route path="/records/:type/:id" element={<RecordPage />} />
            <Route path="/duplicates/:type" element={<TwinsPage />} />
            <Route path="/targets" element={<TargetsPage />} />
            <Route path="/settings" element={<SettingsPage />} />
            <Route path="/people" element={<PeoplePage />} />
            <Route path="/bring-in" element={<BringInPage />} />
            <Route path="/shape" element={<ShapePage />} />
            <Route path="/me" element={<MePage />} />
            <Route path="*" element={<Nowhere />} />
          </Routes>
        </Caught>
      </main>
    </div>
  );
});

/** Says that these are the screens of somebody else, which nothing is changed on, and leads back to one's own. */
function SeenAs({ name }: { name: string }) {
  return (
    <div
      role="status"
      className="-translate-x-1/2 fixed bottom-3 left-1/2 z-40 flex items-center gap-3 rounded-full border border-[var(--amber)] bg-amber-soft px-4 py-1.5 shadow"
    >
      <span>
        You see what <strong>{name}</strong> sees. Nothing can be changed.
      </span>
      <button type="button" className="btn !h-7" onClick={() => seeAs(undefined)}>
        Back to mine
      </button>
    </div>
  );
}

/** Where one begins; where nothing is set up yet, with that. */
const Begin = ({ me }: { me: Me }) => (me.setUp ? <Navigate to="/begin" replace /> : <HomePage me={me} />);

function Nowhere() {
  return (
    <div className="pt-16 text-center">
      <h1 className="title text-2xl">There is nothing at this address</h1>
      <p className="mt-2 text-ink2">Choose where to go on the left.</p>
    </div>
  );
}
