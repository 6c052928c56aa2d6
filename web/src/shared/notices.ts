import { createToaster } from "@chakra-ui/react";

export const toaster = createToaster({ placement: "bottom-end", pauseOnPageIdle: true, max: 4 });

/** Say what went wrong; the sentence says what is safe and what to do. */
export function tellProblem(sentence: string): void {
  toaster.create({ type: "error", description: sentence, duration: 9_000 });
}

const ELSEWHERE = "elsewhere";

/** What another window does is told in one place, however fast it goes on. */
export function tellElsewhere(sentence: string): void {
  const news = { type: "info", description: sentence, duration: 5_000 } as const;
  if (toaster.isVisible(ELSEWHERE)) toaster.update(ELSEWHERE, news);
  else toaster.create({ id: ELSEWHERE, ...news });
}

export function tellNews(sentence: string): void {
  toaster.create({ type: "info", description: sentence, duration: 5_000 });
}

/** What was changed in the view, and the way back to what it was before. */
export function tellChange(sentence: string, back: () => void): void {
  toaster.create({
    type: "info",
    description: sentence,
    duration: 9_000,
    action: { label: "Take back", onClick: back },
  });
}
