import { Flex, Text } from "@chakra-ui/react";

import type { Ground, GroundOrder } from "../../../api/types";
import { CrsField } from "../../../shared/CrsField";
import { OnDemandPopover } from "../../../shared/OnDemandPopover";
import { plural } from "../../../shared/format";
import { Quiet } from "../../../shared/Quiet";
import { Remark } from "../../../shared/Remark";
import { Select } from "../../../shared/Select";

interface Props {
  readonly ground: Ground;
  readonly onSay: (part: Partial<GroundOrder>) => void;
}

const NONE = { value: "", label: "–" };

/** What a file does not say by itself: where it lies, and which columns mean what. */
export function GroundOptions({ ground, onSay }: Props) {
  const { columns, is_table, x, y, crs, attribute } = ground;
  const options = columns.map(({ name, n_different, examples }) => ({
    value: name,
    label: `${name} · ${plural(n_different, "value")}, such as ${examples.join(", ").slice(0, 40)}`,
  }));
  const names = columns.map(({ name }) => ({ value: name, label: name }));
  return (
    <>
      <Flex gap="4" wrap="wrap" align="flex-end">
        {is_table && (
          <>
            <Select
              label="Column to the east"
              value={x ?? ""}
              options={x === null ? [NONE, ...names] : names}
              onValue={(name) => onSay({ x: name, y: y ?? names[1]?.value ?? name })}
            />
            <Select
              label="Column to the north"
              value={y ?? ""}
              options={y === null ? [NONE, ...names] : names}
              onValue={(name) => onSay({ y: name, x: x ?? names[0]?.value ?? name })}
            />
          </>
        )}
        <Select
          label="The class is told by"
          value={attribute ?? ""}
          options={attribute === null ? [NONE, ...options] : options}
          onValue={(name) => onSay({ attribute: name })}
          width="24rem"
        />
        {crs !== null && (
          <OnDemandPopover
            button={<Quiet type="button">It is in another coordinate system</Quiet>}
            placement="bottom-start"
            width="26rem"
          >
            {(close) => (
              <CrsField
                label="It is in"
                value={null}
                onCrs={(code) => {
                  if (code === null) return;
                  onSay({ crs: code });
                  close();
                }}
              />
            )}
          </OnDemandPopover>
        )}
      </Flex>
      {crs === null && (
        <Remark tone="caution">
          <Text mb="1.5">The file does not say which coordinate system it is in. Choose it.</Text>
          <CrsField
            label="It is in"
            value={null}
            onCrs={(code) => {
              if (code !== null) onSay({ crs: code });
            }}
          />
        </Remark>
      )}
    </>
  );
}
