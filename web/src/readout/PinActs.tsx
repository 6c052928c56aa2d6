import { Text } from "@chakra-ui/react";

import { clearPins, MOST_PINS, togglePin } from "../shared/pins";
import { crosshairNow } from "../shared/pointerStore";
import { Quiet } from "../shared/Quiet";
import { useView } from "../shared/viewStore";

/** Pin the pixel under the crosshair, or take all pins out. */
export function PinActs() {
  const { pins } = useView("pins");
  const pin = () => {
    const at = crosshairNow();
    if (at) togglePin(at);
  };
  return (
    <>
      <Text color="quiet">
        {pins.length === 0
          ? "A click in a pane pins its pixel."
          : `${pins.length} of at most ${MOST_PINS} pinned`}
      </Text>
      <Quiet type="button" title="Key P" alignSelf="flex-start" onClick={pin}>
        Pin the crosshair’s pixel
      </Quiet>
      {pins.length > 0 && (
        <Quiet type="button" title="Key Shift+P" alignSelf="flex-start" onClick={clearPins}>
          Take all pins out
        </Quiet>
      )}
    </>
  );
}
