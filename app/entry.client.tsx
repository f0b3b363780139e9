import { StrictMode, startTransition } from "react";
import { hydrateRoot } from "react-dom/client";
import { HydratedRouter } from "react-router/dom";
import { ADDRESSES } from "./messages/compiled/addresses";
import { speak } from "./words";

// The page says which language it is in; only that one is fetched, and its link in the head began it early.
const { language = "en" } = document.documentElement.dataset;
speak(await import(/* @vite-ignore */ ADDRESSES[language] ?? ""));

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
