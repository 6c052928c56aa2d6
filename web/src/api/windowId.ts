/** What this window is called towards the server, as long as its page is not loaded anew. */
export const windowId: string = crypto.randomUUID();
