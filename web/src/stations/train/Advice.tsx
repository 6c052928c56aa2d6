import { useClasses, useSites } from "../../api/queries/training";
import type { LandClass, Site, Training } from "../../api/types";
import { formatCount, plural } from "../../shared/format";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { useView } from "../../shared/viewStore";

/** One sentence about what would help most just now. */
export function Advice() {
  const studyId = useStudyId();
  const { sceneId } = useView();
  const { data: training, error } = useCurrentTraining();
  const { data: classes = [] } = useClasses(studyId);
  const { data: sites = [] } = useSites(studyId, sceneId);
  if (error) return <Remark tone="problem">{error.message}</Remark>;
  const sentence = training && chooseAdvice(training, classes, sites);
  return sentence ? <Remark tone="caution">{sentence}</Remark> : null;
}

function chooseAdvice(training: Training, classes: LandClass[], sites: Site[]): string | null {
  if (training.problem !== null) return training.problem;
  const [disputed] = training.contested;
  const name = (code: number) => classes.find((c) => c.code === code)?.name ?? "";
  if (disputed) {
    return `${plural(disputed.n_pixels, "pixel lies", "pixels lie")} in sites of both ${name(disputed.code)} and ${name(disputed.other_code)}. Redraw one of the two.`;
  }
  const without = training.classes.filter((c) => c.n_sites === 0);
  const [empty] = without;
  if (empty) {
    return `${name(empty.code)} has no site yet and will not appear on the map.`;
  }
  const leftOut = training.classes.find((c) => c.left_out);
  if (leftOut) {
    return `${name(leftOut.code)} has too few pixels to be trained: at least ${training.roles.length + 1} are needed. It is left out of the map as it stands.`;
  }
  const few = training.classes.filter((c) => c.n_pixels < training.usual_minimum);
  const [scarce] = few.sort((a, b) => a.n_pixels - b.n_pixels);
  if (scarce) {
    return `${name(scarce.code)} has ${plural(scarce.n_pixels, "pixel")}; ten per band, ${formatCount(training.usual_minimum)}, is the usual minimum. Draw more of it.`;
  }
  const idle = sites.filter((site) => site.problem !== null).length;
  return idle > 0
    ? `${plural(idle, "site takes", "sites take")} no part; the list says why.`
    : null;
}
