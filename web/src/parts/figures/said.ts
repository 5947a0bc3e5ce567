/** Whether anything was typed at all; how much is enough, the server says. */
export const said = (text: string | null | undefined): boolean => !!text?.trim();
