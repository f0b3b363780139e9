import { StrictMode, startTransition } from "react";
import { hydrateRoot } from "react-dom/client";
import { HydratedRouter } from "react-router/dom";

// A page that was tapped for is drawn in one go. As a transition it would be drawn in slices of 5 ms with
// frames of the old page between them, which doubles the wait on a slow phone.
startTransition(() => {
  hydrateRoot(
    document,
    <StrictMode>
      <HydratedRouter useTransitions={false} />
    </StrictMode>,
  );
});

/** Behind everything that somebody waits for. */
const LATER_MS = 3000;
setTimeout(
  () =>
    void import("./device/forget-everywhere")
      .then(({ forgetEverywhere }) => forgetEverywhere())
      // Out of reach, or nothing may be kept here: there is a next start.
      .catch(() => {}),
  LATER_MS,
);
