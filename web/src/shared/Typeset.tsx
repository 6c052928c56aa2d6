import { Box } from "@chakra-ui/react";

interface Props {
  /** MathML that the server wrote: it holds escaped names and numbers only. */
  readonly mathml: string;
}

/** A formula as it is printed in a book. */
export function Typeset({ mathml }: Props) {
  return (
    <Box overflowX="auto" py="1" fontSize="1.15em" dangerouslySetInnerHTML={{ __html: mathml }} />
  );
}
