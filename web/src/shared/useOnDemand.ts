import { useState } from "react";

interface OnDemand {
  /** Whether it has been asked for; until then a plain button stands in. */
  made: boolean;
  open: boolean;
  setOpen: (open: boolean) => void;
  ask: () => void;
}

/** Popovers and menus cost more to make than to show; each is made when first asked for. */
export function useOnDemand(): OnDemand {
  const [made, setMade] = useState(false);
  const [open, setOpen] = useState(false);
  const ask = () => {
    setMade(true);
    setOpen(true);
  };
  return { made, open, setOpen, ask };
}
