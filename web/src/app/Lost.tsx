import { Button } from "@chakra-ui/react";

import { Blank } from "./Blank";

/** Shown instead of a page that failed; everything drawn is stored already. */
export function Lost() {
  return (
    <Blank>
      The page stumbled over something unforeseen. Your sites, classes and maps are stored.
      <br />
      <Button mt="4" bg="warm" color="white" onClick={() => location.reload()}>
        Load it again
      </Button>
    </Blank>
  );
}
