import { usePictures } from "../api/queries/pictures";
import type { Picture } from "../api/types";
import { formatDate } from "../shared/format";
import { useStudyId } from "../shared/study";
import type { PaneIndex } from "../shared/view";
import { ShowChoice } from "./ShowChoice";

interface Props {
  readonly index: PaneIndex;
  readonly pictureId: string;
}

/** A finer picture to recognise covers by: when and where it comes from stands with it. */
export function PictureCaption({ index, pictureId }: Props) {
  const { data: pictures } = usePictures(useStudyId(), true);
  const picture = pictures?.find((one) => one.id === pictureId);
  if (!pictures) return null;
  return (
    <>
      <ShowChoice index={index} show={{ kind: "picture", pictureId }} />
      {picture ? wordsOf(picture) : " is not offered any more; choose something else"}
    </>
  );
}

function wordsOf({ source, taken, problem }: Picture): string {
  if (problem !== null) return `: ${problem}`;
  const date = taken ? `taken ${formatDate(taken)}` : "date unknown";
  return `, ${date}, from ${source}; it may be older than the scene`;
}
