import { Button, Field, Flex, IconButton, Input, Textarea } from "@chakra-ui/react";
import { Ellipsis } from "lucide-react";
import { useState } from "react";

import { useDeleteClass, useUpdateClass } from "../../api/queries/edits";
import type { LandClass } from "../../api/types";
import { plural } from "../../shared/format";
import { tellNews } from "../../shared/notices";
import { OnDemandPopover } from "../../shared/OnDemandPopover";
import { useStudyId } from "../../shared/study";

interface Props {
  readonly row: LandClass;
  readonly nSites: number;
}

/** Name, colour and description of a class; deleting it says what goes with it. */
export function ClassEditor({ row, nSites }: Props) {
  const label = `Change ${row.name}`;
  const button = (
    <IconButton size="2xs" variant="ghost" color="quiet" title={label} aria-label={label}>
      <Ellipsis />
    </IconButton>
  );
  return (
    <OnDemandPopover button={button} placement="left-start" width="17rem">
      {(close) => <EditorForm row={row} nSites={nSites} onDone={close} />}
    </OnDemandPopover>
  );
}

function EditorForm({ row, nSites, onDone }: Props & { readonly onDone: () => void }) {
  const studyId = useStudyId();
  const update = useUpdateClass(studyId);
  const remove = useDeleteClass(studyId);
  const [name, setName] = useState(row.name);
  const [colour, setColour] = useState(row.colour);
  const [description, setDescription] = useState(row.description);
  const save = (event: React.SubmitEvent) => {
    event.preventDefault();
    update.mutate({ id: row.id, name, colour, description }, { onSuccess: onDone });
  };
  const deleteIt = () =>
    remove.mutate(row.id, {
      onSuccess: () => {
        onDone();
        tellNews(`${row.name} and ${plural(nSites, "site")} deleted. Undo brings them back.`);
      },
    });
  return (
    <form onSubmit={save}>
      <Flex gap="2">
        <Field.Root required flex="1">
          <Field.Label>Name</Field.Label>
          <Input
            size="sm"
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.currentTarget.value)}
          />
        </Field.Root>
        <Field.Root width="4rem">
          <Field.Label>Colour</Field.Label>
          <Input
            size="sm"
            type="color"
            p="0.5"
            value={colour}
            onChange={(event) => setColour(event.currentTarget.value)}
          />
        </Field.Root>
      </Flex>
      <Field.Root mt="2">
        <Field.Label>What belongs to it</Field.Label>
        <Textarea
          size="sm"
          rows={2}
          value={description}
          maxLength={400}
          onChange={(event) => setDescription(event.currentTarget.value)}
        />
      </Field.Root>
      <Flex mt="3" justify="space-between">
        <Button
          size="xs"
          variant="ghost"
          color="warmText"
          onClick={deleteIt}
          loading={remove.isPending}
        >
          Delete it and {plural(nSites, "site")}
        </Button>
        <Button size="xs" type="submit" bg="cool" color="card" loading={update.isPending}>
          Save
        </Button>
      </Flex>
    </form>
  );
}
