import { Flex } from "@chakra-ui/react";

import { useClasses, useSites } from "../../api/queries/training";
import { plural } from "../../shared/format";
import { Part } from "../../shared/Part";
import { useStudyId } from "../../shared/study";
import { useView } from "../../shared/viewStore";
import { Download } from "../../shared/Download";

/** What was said of the ground: training sites, and the classes that they belong to. */
export function GroundFiles() {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { data: sites = [] } = useSites(studyId, sceneId);
  const { data: classes = [] } = useClasses(studyId);
  if (classes.length === 0) return null;
  const base = `/api/studies/${studyId}`;
  return (
    <Part
      title="Training sites and classes"
      aside={`${plural(sites.length, "site")} of ${plural(classes.length, "class", "classes")}`}
    >
      <Flex columnGap="3" rowGap="1" wrap="wrap">
        {sites.length > 0 && (
          <>
            <Download href={`${base}/sites.gpkg`}>Sites as GeoPackage</Download>
            <Download href={`${base}/sites.geojson`}>Sites as GeoJSON</Download>
            <Download href={`${base}/sites.zip`}>Sites as shapefile</Download>
            <Download href={`${base}/site-pixels.csv?scene_id=${sceneId}`}>Pixels as CSV</Download>
          </>
        )}
        <Download href={`${base}/classes.json`}>Classes as JSON</Download>
        <Download href={`${base}/classes.csv`}>Classes as CSV</Download>
      </Flex>
    </Part>
  );
}
