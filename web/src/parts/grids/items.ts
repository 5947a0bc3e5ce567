/** One thing that comes off, as the vehicle's access list has it. */
export interface Item {
  name: string;
  fastener: string;
  nm: number | null;
  care: string;
  opens: string;
  renew: string;
}

/** How it is held, what to mind and what it opens, in one line. */
export function held(item: Item): string {
  return [
    item.fastener && `held by ${item.fastener}`,
    item.care,
    item.opens && `opens ${item.opens}`,
    item.renew && `new at refitting: ${item.renew}`,
  ]
    .filter(Boolean)
    .join(" · ");
}
