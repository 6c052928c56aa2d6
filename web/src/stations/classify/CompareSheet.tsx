import { Box, Flex, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useComparedMaps, useMakeDisagreement, useMaps } from "../../api/queries/maps";
import type { ClassMap } from "../../api/types";
import { rowsToCsv } from "../../charts";
import { formatPercent } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Primary } from "../../shared/Primary";
import { Remark } from "../../shared/Remark";
import { saveFile } from "../../shared/saveFile";
import { Select } from "../../shared/Select";
import { SheetFrame } from "../../shared/SheetFrame";
import { useStudyId } from "../../shared/study";
import { useViewStore } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";
import { FromToTable } from "./FromToTable";
import { csvOf, matchedWords, pointsWords } from "./compared";

const PURPOSE =
  "From which class of the first map to which of the second, in hectares; and which of them is right on the reference points that both cover.";

interface Props {
  readonly first: number;
  readonly second: number;
  readonly onClose: () => void;
}

/** Two class maps beside each other. */
export function CompareSheet({ first, second, onClose }: Props) {
  const studyId = useStudyId();
  const { data: maps = [] } = useMaps(studyId);
  const { data, error } = useComparedMaps(first, second);
  const make = useMakeDisagreement(studyId);
  const set = useWork((store) => store.set);
  const setPane = useViewStore((store) => store.setPane);
  const show = () =>
    make.mutate(
      { first, second },
      {
        onSuccess: (layer) => {
          setPane(1, { kind: "map", layerId: layer.id });
          onClose();
        },
      },
    );
  const change = (part: { first?: number; second?: number }) =>
    set({ sheet: { kind: "compare", first, second, ...part } });
  const problem = error ?? make.error;
  return (
    <SheetFrame
      title="Two maps"
      purpose={PURPOSE}
      onClose={onClose}
      action={
        <Primary
          width="auto"
          size="sm"
          loading={make.isPending}
          disabled={!data || first === second}
          onClick={show}
        >
          Show where they differ
        </Primary>
      }
    >
      <Flex gap="3" align="center" maxW="44rem">
        <Pick label="First map" maps={maps} id={first} onPick={(id) => change({ first: id })} />
        <Pick label="Second map" maps={maps} id={second} onPick={(id) => change({ second: id })} />
      </Flex>
      {first === second && <Text mt="3">Choose another map for one of them.</Text>}
      {problem && <Remark tone="problem">{sentenceOf(problem)}</Remark>}
      {data && first !== second && (
        <Box mt="3">
          <Text fontWeight="650">
            {formatPercent(data.same, 1)} of the pixels that both cover have the same{" "}
            {data.matched ? "cluster" : "class"}.
          </Text>
          <Text mt="1">{data.matched ? matchedWords(data) : pointsWords(data.points)}</Text>
          <FromToTable data={data} />
          <Quiet
            type="button"
            mt="2"
            minH="24px"
            onClick={() => saveFile("two-maps.csv", rowsToCsv(csvOf(data)))}
          >
            CSV
          </Quiet>
        </Box>
      )}
    </SheetFrame>
  );
}

interface PickProps {
  readonly label: string;
  readonly maps: readonly ClassMap[];
  readonly id: number;
  readonly onPick: (id: number) => void;
}

function Pick({ label, maps, id, onPick }: PickProps) {
  return (
    <Select
      label={label}
      value={String(id)}
      options={maps.map((map) => ({ value: String(map.id), label: map.title }))}
      onValue={(value) => onPick(Number(value))}
    />
  );
}
