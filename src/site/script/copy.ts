/** A copy that has not been renewed for so long has grown old. */
const OLD_MS = 3_600_000;

/** A copy in a folder says when it has grown old: nobody else there can. */
export function beginCopy(): void {
  const made = document.querySelector<HTMLElement>('.made');
  const at = Number(made?.dataset.made);
  if (!made || !at) return;
  const look = () => {
    if (Date.now() - at < OLD_MS || made.classList.contains('old')) return;
    made.classList.add('old');
    made.textContent = made.dataset.old ?? made.textContent;
    made.setAttribute('role', 'status');
    document.querySelector('.lead')?.before(made);
  };
  look();
  setInterval(look, 60_000);
}
