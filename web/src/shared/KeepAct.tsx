import { Link } from "@chakra-ui/react";

import { useKeepLayer } from "../api/queries/layers";
import { Quiet } from "./Quiet";
import { useStudyId } from "./study";

/** Keep a layer as a file; download it once it is kept. */
export function KeepAct({ layer }: { readonly layer: { id: number; kept: boolean } }) {
  const keep = useKeepLayer(useStudyId());
  if (layer.kept) {
    return (
      <Link href={`/api/layers/${layer.id}/file`} download color="cool" fontWeight="600">
        Download GeoTIFF
      </Link>
    );
  }
  return (
    <Quiet type="button" onClick={() => keep.mutate(layer.id)}>
      Keep as a file
    </Quiet>
  );
}
