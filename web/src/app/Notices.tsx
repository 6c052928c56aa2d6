import { Portal, Toaster, Toast } from "@chakra-ui/react";

import { toaster } from "../shared/notices";

/** Where news and problems appear, each with a way to close it. */
export function Notices() {
  return (
    <Portal>
      <Toaster toaster={toaster} insetInline={{ mdDown: "4" }}>
        {(toast) => (
          <Toast.Root width="24rem">
            <Toast.Indicator />
            <Toast.Description flex="1">{toast.description}</Toast.Description>
            {toast.action && <Toast.ActionTrigger>{toast.action.label}</Toast.ActionTrigger>}
            <Toast.CloseTrigger />
          </Toast.Root>
        )}
      </Toaster>
    </Portal>
  );
}
