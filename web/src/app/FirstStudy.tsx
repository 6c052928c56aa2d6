import { Navigate } from "react-router";

import { sentenceOf } from "../api/problem";
import { useStudies } from "../api/queries/studies";
import { Blank } from "./Blank";
import { NewStudy } from "./NewStudy";

/** The first page opens the first study at the station where the work is. */
export function FirstStudy() {
  const { data: studies, error } = useStudies();
  if (error) return <Blank>{sentenceOf(error)}</Blank>;
  if (!studies) return <Blank>Opening …</Blank>;
  const [first] = studies;
  if (!first) {
    return (
      <Blank>
        There is no study here yet. <NewStudy />
      </Blank>
    );
  }
  return <Navigate to={`/studies/${first.id}/train`} replace />;
}
