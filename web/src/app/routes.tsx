import { createBrowserRouter } from "react-router";

import { FirstStudy } from "./FirstStudy";
import { Lost } from "./Lost";
import { StudyPage } from "./StudyPage";

/** The address says which study and which station are open. */
export const router = createBrowserRouter([
  { path: "/", element: <FirstStudy />, errorElement: <Lost /> },
  { path: "/studies/:studyId/:station", element: <StudyPage />, errorElement: <Lost /> },
  { path: "*", element: <FirstStudy /> },
]);
