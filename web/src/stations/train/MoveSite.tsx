import { IconButton, Menu, Portal } from "@chakra-ui/react";
import { ArrowRightLeft } from "lucide-react";

import { useUpdateSite } from "../../api/queries/edits";
import { useClasses } from "../../api/queries/training";
import type { Site } from "../../api/types";
import { useStudyId } from "../../shared/study";
import { Swatch } from "../../shared/Swatch";
import { useOnDemand } from "../../shared/useOnDemand";
import { useView } from "../../shared/viewStore";

const LABEL = "Move this site to another class";
const BUTTON = { size: "2xs", variant: "ghost", color: "quiet", title: LABEL } as const;

/** Move a site to another class. */
export function MoveSite({ site }: { readonly site: Site }) {
  const { made, open, setOpen, ask } = useOnDemand();
  if (!made) {
    return (
      <IconButton {...BUTTON} aria-label={LABEL} aria-haspopup="menu" onClick={ask}>
        <ArrowRightLeft />
      </IconButton>
    );
  }
  return <ClassMenu site={site} open={open} onOpen={setOpen} />;
}

interface MenuProps {
  readonly site: Site;
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
}

function ClassMenu({ site, open, onOpen }: MenuProps) {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const { data: classes = [] } = useClasses(studyId);
  const update = useUpdateSite(studyId, sceneId);
  return (
    <Menu.Root open={open} onOpenChange={(details) => onOpen(details.open)} lazyMount unmountOnExit>
      <Menu.Trigger asChild>
        <IconButton {...BUTTON} aria-label={LABEL}>
          <ArrowRightLeft />
        </IconButton>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {classes
              .filter((c) => c.id !== site.class_id)
              .map((c) => (
                <Menu.Item
                  key={c.id}
                  value={String(c.id)}
                  onSelect={() =>
                    update.mutate({ id: site.id, class_id: c.id, version: site.version })
                  }
                >
                  <Swatch colour={c.colour} /> {c.name}
                </Menu.Item>
              ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
