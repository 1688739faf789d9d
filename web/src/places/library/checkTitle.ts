/** What is wrong with a title; "" where nothing is. */
export const checkTitle = (text: string) =>
  !text ? "Give it a title." : text.length > 200 ? "Use at most 200 characters." : "";
