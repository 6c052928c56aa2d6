import { Box, Flex, Text } from "@chakra-ui/react";

import { useRemoveDelivery } from "../../api/queries/deliveries";
import type { KeptDelivery } from "../../api/types";
import { askFirst } from "../../shared/askStore";
import { formatDate, formatSize, plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";

export function ReceivedList({ received }: { readonly received: readonly KeptDelivery[] }) {
  if (received.length === 0) {
    return (
      <Text color="quiet">
        Nothing has been sent into this study. Files that are brought in are listed here.
      </Text>
    );
  }
  return received.map((delivery) => <Entry key={delivery.id} delivery={delivery} />);
}

function Entry({ delivery }: { readonly delivery: KeptDelivery }) {
  const remove = useRemoveDelivery(useStudyId());
  const ask = () =>
    askFirst({
      title: `Delete what was received as ${delivery.name}?`,
      words: consequence(delivery),
      act: "Delete it",
      onYes: () => remove.mutate(delivery.id),
    });
  return (
    <Box mt="1.5">
      <Flex gap="2" justify="space-between" align="baseline">
        <Text overflowWrap="anywhere">{delivery.name}</Text>
        <Quiet
          type="button"
          aria-label={`Delete ${delivery.name}`}
          disabled={remove.isPending}
          onClick={ask}
        >
          Delete
        </Quiet>
      </Flex>
      <Text color="quiet">{factsOf(delivery)}</Text>
    </Box>
  );
}

function factsOf({ created_at, is_ours, n_files, n_bytes, n_unfinished }: KeptDelivery): string {
  const day = formatDate(created_at.slice(0, 10));
  if (!is_ours) return `${day} · read where it lies on the server`;
  const size = `${plural(n_files, "file")}, ${formatSize(n_bytes)}`;
  const left = n_unfinished > 0 ? ` · ${n_unfinished} not sent to the end` : "";
  return `${day} · ${size}${left}`;
}

/** What goes with it; said before it is done. */
function consequence({ scenes, is_ours }: KeptDelivery): string {
  const files = is_ours
    ? "Its files are deleted from the server."
    : "The study forgets where it lies; its files are left alone.";
  if (scenes.length === 0) return `${files} No scene is made of it.`;
  const names = scenes.map((scene) => `“${scene.title}”`).join(", ");
  return `${files} ${names} ${scenes.length === 1 ? "goes" : "go"} with it. This cannot be undone, nor can what was done before.`;
}
