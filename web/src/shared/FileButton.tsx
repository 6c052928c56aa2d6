import { Button } from "@chakra-ui/react";
import { useRef } from "react";

interface Props {
  readonly label: string;
  /** Endings, with commas between. */
  readonly accept: string;
  readonly busy?: boolean;
  readonly size?: "xs" | "sm";
  readonly onFile: (file: File) => void;
}

/** Choose a file of one's own. */
export function FileButton({ label, accept, busy = false, size = "sm", onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        size={size}
        variant="outline"
        bg="card"
        borderColor="line"
        loading={busy}
        onClick={() => input.current?.click()}
      >
        {label}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept={accept}
        aria-label={label}
        onChange={(event) => {
          const chosen = event.currentTarget.files?.[0];
          event.currentTarget.value = "";
          if (chosen) onFile(chosen);
        }}
      />
    </>
  );
}
