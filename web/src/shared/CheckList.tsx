import { Checkbox, Flex, Text } from "@chakra-ui/react";

interface Props {
  readonly title: string;
  readonly help?: string | undefined;
  readonly options: readonly string[];
  readonly chosen: readonly string[];
  readonly onChosen: (chosen: string[]) => void;
}

/** Any of a few; the order is that of the options. */
export function CheckList({ title, help, options, chosen, onChosen }: Props) {
  const toggle = (option: string) =>
    onChosen(options.filter((one) => (one === option) !== chosen.includes(one)));
  return (
    <>
      <Text fontWeight="500">{title}</Text>
      <Flex wrap="wrap" columnGap="3" role="group" aria-label={title}>
        {options.map((option) => (
          <Checkbox.Root
            key={option}
            size="sm"
            checked={chosen.includes(option)}
            onCheckedChange={() => toggle(option)}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control />
            <Checkbox.Label fontSize="1rem">{option}</Checkbox.Label>
          </Checkbox.Root>
        ))}
      </Flex>
      {help !== undefined && <Text color="quiet">{help}</Text>}
    </>
  );
}
