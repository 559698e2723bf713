import { createBrowserRouter } from "react-router";

import { NotFound, RouteFailed } from "./NotFound";
import { Shell } from "./Shell";
import { SignIn } from "../people/SignIn";
import { Opening } from "../frame/Opening";

/** Every page but the sign-in is loaded when it is first opened. */
export const router = createBrowserRouter([
  { path: "/sign-in", element: <SignIn /> },
  {
    element: <Shell />,
    errorElement: <RouteFailed />,
    hydrateFallbackElement: <Opening className="p-4" />,
    children: [
      { index: true, lazy: async () => ({ Component: (await import("../board/BoardPage")).BoardPage }) },
      { path: "tanks", lazy: async () => ({ Component: (await import("../tanks/TanksPage")).TanksPage }) },
      {
        path: "tanks/new",
        lazy: async () => ({ Component: (await import("../tanks/NewTankPage")).NewTankPage }),
      },
      {
        path: "tanks/:id/history",
        lazy: async () => ({ Component: (await import("../history/HistoryPage")).HistoryPage }),
      },
      {
        path: "tanks/:id/:station?",
        lazy: async () => ({ Component: (await import("./TankPage")).TankPage }),
      },
      {
        path: "sources",
        lazy: async () => ({ Component: (await import("../readings/SourcesPage")).SourcesPage }),
      },
      {
        path: "visits",
        lazy: async () => ({ Component: (await import("../visits/VisitsPage")).VisitsPage }),
      },
      {
        path: "visits/new",
        lazy: async () => ({ Component: (await import("../visits/NewVisitPage")).NewVisitPage }),
      },
      {
        path: "visits/:id",
        lazy: async () => ({ Component: (await import("../visits/RunnerPage")).RunnerPage }),
      },
      {
        path: "visits/:id/record",
        lazy: async () => ({ Component: (await import("../visits/RecordPage")).RecordPage }),
      },
      {
        path: "visits/steps",
        lazy: async () => ({ Component: (await import("../visits/OwnStepsPage")).OwnStepsPage }),
      },
      {
        path: "mail",
        lazy: async () => ({ Component: (await import("../visits/MailPage")).MailPage }),
      },
      {
        path: "register",
        lazy: async () => ({ Component: (await import("../register/RegisterPage")).RegisterPage }),
      },
      {
        path: "tanks/:id/register",
        lazy: async () => ({ Component: (await import("../register/TankRegisterPage")).TankRegisterPage }),
      },
      { path: "line", lazy: async () => ({ Component: (await import("../scaling/LinePage")).LinePage }) },
      {
        path: "profiles",
        lazy: async () => ({ Component: (await import("../tanks/profiles/ProfilesPage")).ProfilesPage }),
      },
      {
        path: "gauge-models",
        lazy: async () => ({ Component: (await import("../gauges/ModelsPage")).ModelsPage }),
      },
      {
        path: "account",
        lazy: async () => ({ Component: (await import("../people/AccountPage")).AccountPage }),
      },
      {
        path: "people",
        lazy: async () => ({ Component: (await import("../people/PeoplePage")).PeoplePage }),
      },
      { path: "*", element: <NotFound /> },
    ],
  },
]);
