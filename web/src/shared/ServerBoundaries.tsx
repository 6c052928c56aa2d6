import { Flex, Text } from "@chakra-ui/react";

import { useServerBoundaries } from "../api/queries/corrections";
import { Quiet } from "./Quiet";

/** Boundary files that lie where the server may look. */
export function ServerBoundaries({ onPath }: { readonly onPath: (path: string) => void }) {
  const { data = [] } = useServerBoundaries();
  if (data.length === 0) return null;
  return (
    <Flex gap="2" mt="1" wrap="wrap">
      <Text color="quiet">On the server:</Text>
      {data.map(({ name, path }) => (
        <Quiet
          key={path}
          type="button"
          title={path}
          aria-label={`Boundary on the server: ${name}`}
          onClick={() => onPath(path)}
        >
          {name}
        </Quiet>
      ))}
    </Flex>
  );
}
