import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useSearchCatalogue, useTakeFromCatalogue } from "../../../api/queries/catalogue";
import type { CatalogueQuery, FoundScene } from "../../../api/types";
import type { Outline } from "../../../map";
import { plural } from "../../../shared/format";
import { Primary } from "../../../shared/Primary";
import { Remark } from "../../../shared/Remark";
import { SheetFrame } from "../../../shared/SheetFrame";
import { useStudyId } from "../../../shared/study";
import { CatalogueForm } from "./CatalogueForm";
import { FoundEntry } from "./FoundEntry";

interface Props {
  readonly shown: Outline | null;
  readonly onClose?: (() => void) | undefined;
}

/** Search a scene catalogue, look before taking, take one or many. */
export function CatalogueSheet({ shown, onClose }: Props) {
  const studyId = useStudyId();
  const search = useSearchCatalogue(studyId);
  const take = useTakeFromCatalogue(studyId);
  const [address, setAddress] = useState("");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const found = search.data ?? [];
  const picked = found.filter((scene) => chosen.has(scene.id) && !scene.taken);

  const start = (query: CatalogueQuery) => {
    setAddress(query.address);
    setChosen(new Set());
    search.mutate(query);
  };
  const toggle = ({ id }: FoundScene) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  return (
    <SheetFrame
      title="Scene catalogue"
      purpose="Search by area, dates and cloud; look at a scene before its files are fetched."
      onClose={onClose}
      action={
        search.data && (
          <>
            <Primary
              width="auto"
              px="6"
              disabled={picked.length === 0}
              loading={take.isPending}
              onClick={() =>
                take.mutate({ address, scenes: picked }, { onSuccess: () => onClose?.() })
              }
            >
              {`Take ${plural(picked.length, "scene")} into the study`}
            </Primary>
            <Text color="quiet">
              Each is fetched in the background; the bar above shows how far it is.
            </Text>
          </>
        )
      }
    >
      <CatalogueForm shown={shown} busy={search.isPending} onSearch={start} />
      {search.error && <Remark tone="problem">{sentenceOf(search.error)}</Remark>}
      {search.data && (
        <Text mt="4" mb="2" role="status">
          {found.length === 0
            ? "No scene meets this. Widen the dates or the area, or allow more cloud."
            : `${plural(found.length, "scene")}, newest first.`}
        </Text>
      )}
      <Flex gap="3" wrap="wrap">
        {found.map((scene) => (
          <FoundEntry
            key={scene.id}
            scene={scene}
            chosen={chosen.has(scene.id)}
            onToggle={() => toggle(scene)}
          />
        ))}
      </Flex>
    </SheetFrame>
  );
}
