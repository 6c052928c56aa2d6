import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import { useCatalogues } from "../../../api/queries/catalogue";
import type { CatalogueQuery } from "../../../api/types";
import type { Outline } from "../../../map";
import { DateField } from "../../../shared/DateField";
import { Select } from "../../../shared/Select";
import { TextField } from "../../../shared/TextField";
import { useWork } from "../../../shared/workStore";

interface Props {
  /** What the panes showed when the sheet was opened. */
  readonly shown: Outline | null;
  readonly busy: boolean;
  readonly onSearch: (query: CatalogueQuery) => void;
}

interface Fields {
  address: string;
  area: string;
  first: string;
  last: string;
  cloud: string;
  degrees: string;
}

/** Where, when, and under how much cloud. */
export function CatalogueForm({ shown, busy, onSearch }: Props) {
  const { data: catalogues = [] } = useCatalogues();
  const areas = useWork((store) => store.areas);
  const [fields, setFields] = useState<Fields>({
    address: "",
    area: shown ? "shown" : "everywhere",
    first: "",
    last: "",
    cloud: "",
    degrees: "",
  });
  const change = (part: Partial<Fields>) => setFields({ ...fields, ...part });
  const address = fields.address || (catalogues[0]?.address ?? "");
  const [west, south, east, north] = fields.degrees.split(/[,;\s]+/).map(Number);
  const typed = fields.area === "typed";
  const badDegrees = typed && ![west, south, east, north].every((n) => Number.isFinite(n));

  const search = () => {
    const outline =
      fields.area === "shown"
        ? shown
        : (areas.find((area) => area.key === fields.area)?.outline ?? null);
    onSearch({
      address,
      area: outline ? { ...outline } : null,
      ...(typed && { west, south, east, north }),
      first: fields.first || null,
      last: fields.last || null,
      max_cloud_percent: fields.cloud === "" ? null : Number(fields.cloud),
    });
  };
  return (
    <Box
      as="form"
      onSubmit={(event) => {
        event.preventDefault();
        if (!badDegrees) search();
      }}
    >
      <Flex gap="3" wrap="wrap" align="flex-end">
        <Select
          label="Catalogue"
          value={address}
          options={catalogues.map((c) => ({
            value: c.address,
            label: c.is_stand_in ? "Made-up scenes, on this machine" : c.address,
          }))}
          onValue={(value) => change({ address: value })}
          width="17rem"
        />
        <Select
          label="Area"
          value={fields.area}
          options={[
            ...(shown ? [{ value: "shown", label: "what the panes showed" }] : []),
            ...areas.map(({ key, name }) => ({ value: key, label: name })),
            { value: "typed", label: "typed degrees" },
            { value: "everywhere", label: "everywhere" },
          ]}
          onValue={(area) => change({ area })}
          width="13rem"
        />
        {typed && (
          <TextField
            label="West, south, east, north"
            value={fields.degrees}
            placeholder="-34.2, 45.9, -34.0, 46.1"
            onText={(degrees) => change({ degrees })}
            aria-invalid={badDegrees}
            width="16rem"
          />
        )}
        <DateField
          label="First day, included"
          value={fields.first}
          onDay={(first) => change({ first })}
          width="10rem"
        />
        <DateField
          label="Last day, included"
          value={fields.last}
          onDay={(last) => change({ last })}
          width="10rem"
        />
        <TextField
          label="Cloud at most, %"
          type="number"
          min={0}
          max={100}
          value={fields.cloud}
          onText={(cloud) => change({ cloud })}
          width="8rem"
        />
        <Button
          type="submit"
          size="sm"
          bg="cool"
          color="card"
          loading={busy}
          disabled={address === "" || badDegrees}
        >
          Search
        </Button>
      </Flex>
    </Box>
  );
}
