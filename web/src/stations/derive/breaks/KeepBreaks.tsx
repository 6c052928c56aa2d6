import { sentenceOf } from "../../../api/problem";
import { useKeepBreaks } from "../../../api/queries/breaks";
import { Primary } from "../../../shared/Primary";
import { Remark } from "../../../shared/Remark";
import { useStudyId } from "../../../shared/study";
import { useBreaks } from "./useBreaks";

/** Keep the class map as the table stands; it appears in the second pane when it is ready. */
export function KeepBreaks() {
  const { scene, role, table, error } = useBreaks();
  const keep = useKeepBreaks(useStudyId(), scene.id);
  return (
    <>
      {keep.error && <Remark tone="problem">{sentenceOf(keep.error)}</Remark>}
      <Primary
        disabled={table === null || error !== null}
        loading={keep.isPending}
        onClick={() => table && keep.mutate({ role, table })}
      >
        Keep the class map
      </Primary>
    </>
  );
}
