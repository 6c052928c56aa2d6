import { Button, Flex, Input } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";

import { useCreateStudy } from "../api/queries/studies";

/** Start a study with nothing in it. */
export function NewStudy() {
  const create = useCreateStudy();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  return (
    <Flex
      as="form"
      gap="2"
      mt="2"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim() === "") return;
        create.mutate(name.trim(), {
          onSuccess: (study) => void navigate(`/studies/${study.id}/scenes`),
        });
      }}
    >
      <Input
        size="sm"
        bg="card"
        aria-label="Name of the new study"
        placeholder="A new study's name"
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <Button
        type="submit"
        size="sm"
        variant="outline"
        borderColor="line"
        flex="none"
        loading={create.isPending}
        disabled={name.trim() === ""}
      >
        Start it
      </Button>
    </Flex>
  );
}
