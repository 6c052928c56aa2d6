import { Box, Text } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";

import { sentenceOf } from "../../../api/problem";
import { useGround, useTakeGround } from "../../../api/queries/ground";
import type { Ground, GroundFile, GroundOrder } from "../../../api/types";
import { formatCount, plural } from "../../../shared/format";
import { tellNews } from "../../../shared/notices";
import { Primary } from "../../../shared/Primary";
import { Remark } from "../../../shared/Remark";
import { SheetFrame } from "../../../shared/SheetFrame";
import { useStudyId } from "../../../shared/study";
import { useView } from "../../../shared/viewStore";
import { GroundOptions } from "./GroundOptions";
import { LEFT_OUT, ValueTable, wantedOf } from "./ValueTable";

interface Props {
  readonly file: GroundFile;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

/** What a file holds: where it lies, which attribute tells the class, and what is taken. */
export function GroundFileForm({ file, onClose, children }: Props) {
  const studyId = useStudyId();
  const { sceneId } = useView("sceneId");
  const [said, setSaid] = useState<Partial<GroundOrder>>({});
  const [choices, setChoices] = useState<Readonly<Record<string, string>>>({});
  const order: GroundOrder = { ...file, scene_id: sceneId, ...said };
  const { data, error, isPlaceholderData } = useGround(studyId, order);
  const taking = useTaking(order, error ? undefined : data, choices, onClose);
  const leaveAllOut = () =>
    setChoices(Object.fromEntries((data?.values ?? []).map(({ value }) => [value, LEFT_OUT])));
  return (
    <SheetFrame
      title={`Bring in sites of ${file.name}`}
      purpose={data ? factsOf(data) : "Reading …"}
      onClose={onClose}
      action={
        <Primary
          width="auto"
          disabled={taking.n === 0 || isPlaceholderData}
          loading={taking.isPending}
          onClick={taking.start}
        >
          {taking.n > 0 ? `Bring in ${plural(taking.n, "site")}` : "Nothing to bring in yet"}
        </Primary>
      }
    >
      {children}
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {data && (
        <GroundOptions
          ground={data}
          onSay={(part) => {
            setSaid({ ...said, ...part });
            if (part.attribute !== undefined) setChoices({});
          }}
        />
      )}
      {data && !error && (
        <>
          <Remarks ground={data} />
          <ValueTable
            values={data.values}
            choices={choices}
            onChoice={(value, choice) => setChoices({ ...choices, [value]: choice })}
            onAll={(choice) => (choice === LEFT_OUT ? leaveAllOut() : setChoices({}))}
          />
        </>
      )}
    </SheetFrame>
  );
}

/** How many sites would be taken as things are chosen, and the act itself. */
function useTaking(
  order: GroundOrder,
  data: Ground | undefined,
  choices: Readonly<Record<string, string>>,
  onDone: () => void,
) {
  const take = useTakeGround(useStudyId());
  const values = data?.values ?? [];
  const wanted = wantedOf(values, choices);
  const n = values.reduce((sum, one) => sum + (one.value in wanted ? one.n_sites : 0), 0);
  const start = () =>
    take.mutate(
      { ...order, attribute: data?.attribute ?? null, wanted },
      {
        onSuccess: () => {
          tellNews(`${plural(n, "site is", "sites are")} being brought in.`);
          onDone();
        },
      },
    );
  return { n, start, isPending: take.isPending };
}

function factsOf({ n_features, n_sites, crs, crs_name }: Ground): string {
  const where = crs === null ? "" : `, in ${crs_name ?? ""} (${crs.length < 40 ? crs : "its own"})`;
  return `${plural(n_features, "feature")}${where}; ${plural(n_sites, "site")} can be taken.`;
}

/** What is not taken and why, and what was mended. */
function Remarks({ ground }: { readonly ground: Ground }) {
  const { left_out, n_mended, n_values, values } = ground;
  return (
    <Box>
      {left_out.length > 0 && (
        <Remark tone="caution">
          Not taken: {left_out.map(({ reason, n }) => `${formatCount(n)} ${reason}`).join(", ")}.
        </Remark>
      )}
      {n_mended > 0 && (
        <Remark tone="calm">
          {plural(n_mended, "outline was", "outlines were")} mended: a spike or a crossing that
          changed next to nothing.
        </Remark>
      )}
      {n_values > values.length && (
        <Remark tone="problem">
          The attribute has {formatCount(n_values)} different values; a class scheme holds at most
          254. It is most likely not the one that tells the class. Only the first{" "}
          {formatCount(values.length)} are shown.
        </Remark>
      )}
      <Text srOnly role="status">
        {plural(ground.n_sites, "site")} can be taken.
      </Text>
    </Box>
  );
}
