import { Text } from "@chakra-ui/react";

import { Card } from "./Card";

interface Props {
  readonly title: string;
  readonly purpose: string;
}

/** A station that is not built yet: one line, and otherwise quiet. */
export function LaterCard({ title, purpose }: Props) {
  return (
    <Card title={title} purpose={purpose}>
      <Text color="quiet" mt="3">
        This station is not built yet.
      </Text>
    </Card>
  );
}
