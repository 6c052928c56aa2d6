import { chakra } from "@chakra-ui/react";

const Square = chakra("span", {
  base: {
    display: "inline-block",
    width: "13px",
    height: "13px",
    borderRadius: "3px",
    border: "1px solid",
    borderColor: "blackAlpha.400",
    flex: "none",
    verticalAlign: "-2px",
  },
});

export function Swatch({ colour }: { readonly colour: string }) {
  return <Square style={{ backgroundColor: colour }} aria-hidden />;
}
