/**
 * Whether an answer says that this address takes nothing, as opposed to that nothing of ours is taken. A mail server
 * tells them apart by its enhanced code (RFC 3463): 5.1 is the address, 5.2 the mailbox; everything else is about the
 * sender, its words or the way, and is no fault of who follows.
 */
export function isRefusedForGood({
  ok,
  retry,
  said,
}: {
  ok: boolean;
  retry: boolean;
  said: string;
}): boolean {
  if (ok || retry) return false;
  const enhanced = /\b5\.(\d{1,3})\.\d{1,3}\b/.exec(said);
  if (enhanced) return enhanced[1] === '1' || enhanced[1] === '2';
  return !/relay|authenti|spam|policy|denied/i.test(said);
}
