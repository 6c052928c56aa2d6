import { Flex } from "@chakra-ui/react";

import { useSiteActs } from "../../api/queries/judging";
import type { LandClass, Site, SiteAct } from "../../api/types";
import { plural } from "../../shared/format";
import { tellNews } from "../../shared/notices";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useView } from "../../shared/viewStore";

interface Props {
  readonly chosen: readonly Site[];
  readonly classes: readonly LandClass[];
  readonly onDone: () => void;
}

/** One act over all marked sites, undone as one. */
export function ManyActs({ chosen, classes, onDone }: Props) {
  const { mutate, isPending } = useSiteActs(useStudyId(), useView("sceneId", "roles"));
  const siteIds = chosen.map(({ id }) => id);
  const act = (name: SiteAct, classId?: number) =>
    mutate(
      { act: name, siteIds, ...(classId !== undefined && { classId }) },
      {
        onSuccess: () => {
          tellNews(`${plural(siteIds.length, "site")} changed. Undo takes it back.`);
          onDone();
        },
      },
    );
  const button = (name: SiteAct, label: string) => (
    <Quiet key={name} type="button" disabled={isPending} onClick={() => act(name)}>
      {label}
    </Quiet>
  );
  const aside = chosen.every((site) => site.set_aside);
  const bound = chosen.every((site) => site.true_on !== null);
  const trusted = chosen.every((site) => site.trusted);
  return (
    <>
      <ClassSelect label="Move to …" classes={classes} onClass={(id) => act("move", id)} />
      <ClassSelect label="Copy to …" classes={classes} onClass={(id) => act("copy", id)} />
      <Flex gap="3" wrap="wrap">
        {button("shrink", "Shrink")}
        {button("split", "Split")}
        {chosen.length > 1 && button("merge", "Merge")}
        {aside ? button("train", "Train on") : button("set_aside", "Set aside")}
        {bound ? button("any_date", "Any date") : button("this_date", "This date only")}
        {trusted ? button("doubt", "Judge again") : button("trust", "Vouch for")}
        {button("delete", "Delete")}
      </Flex>
    </>
  );
}

interface SelectProps {
  readonly label: string;
  readonly classes: readonly LandClass[];
  readonly onClass: (id: number) => void;
}

function ClassSelect({ label, classes, onClass }: SelectProps) {
  const options = classes.map(({ id, name }) => ({ value: String(id), label: name }));
  return (
    <Select
      label={label}
      hideLabel
      value=""
      options={[{ value: "", label }, ...options]}
      onValue={(value) => value !== "" && onClass(Number(value))}
    />
  );
}
