import { useState } from "react";

import { useReceived } from "../../api/queries/deliveries";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { ReceivedList } from "./ReceivedList";

/** What has been sent or fetched into the study: how much room it takes, and the way to be rid of
 * it. Sizes are looked up when they are asked for. */
export function ReceivedPart() {
  const [asked, setAsked] = useState(false);
  const { data } = useReceived(useStudyId(), asked);
  return (
    <Part
      title="Received files"
      aside={
        <Quiet type="button" aria-expanded={asked} onClick={() => setAsked(!asked)}>
          {asked ? "Hide" : "Show"}
        </Quiet>
      }
    >
      {asked && data && <ReceivedList received={data} />}
    </Part>
  );
}
