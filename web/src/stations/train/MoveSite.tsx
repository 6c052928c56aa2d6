import { IconButton, Menu, Portal } from "@chakra-ui/react";
import { ArrowRightLeft } from "lucide-react";

import { useUpdateSite } from "../../api/queries/edits";
import { useClasses } from "../../api/queries/training";
import type { Site } from "../../api/types";
import { useStudyId } from "../../shared/study";
import { Swatch } from "../../shared/Swatch";
import { useView } from "../../shared/viewStore";

/** Move a site to another class. */
export function MoveSite({ site }: { readonly site: Site }) {
  const studyId = useStudyId();
  const { sceneId } = useView();
  const { data: classes = [] } = useClasses(studyId);
  const update = useUpdateSite(studyId, sceneId);
  return (
    <Menu.Root lazyMount unmountOnExit>
      <Menu.Trigger asChild>
        <IconButton
          size="2xs"
          variant="ghost"
          color="quiet"
          aria-label="Move this site to another class"
          title="Move this site to another class"
        >
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
                  onSelect={() => update.mutate({ id: site.id, class_id: c.id })}
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
