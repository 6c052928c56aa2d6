import { Navigate } from "react-router";

import { sentenceOf } from "../api/problem";
import { useStudies } from "../api/queries/studies";
import { Blank } from "./Blank";

/** The first page opens the first study at the station where the work is. */
export function FirstStudy() {
  const { data: studies, error } = useStudies();
  if (error) return <Blank>{sentenceOf(error)}</Blank>;
  if (!studies) return <Blank>Opening …</Blank>;
  const [first] = studies;
  if (!first) {
    return (
      <Blank>
        There is no study here yet. Start Kite Sort without <code>--no-demo</code> to get the demo
        study.
      </Blank>
    );
  }
  return <Navigate to={`/studies/${first.id}/train`} replace />;
}
