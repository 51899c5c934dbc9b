/** Being told in this browser (W3C Push API): what is chosen beside it is told to the page it stands on. */
const place = document.querySelector<HTMLElement>('[data-push-key]');

function say(words: string | undefined): void {
  const said = place?.querySelector('[role=status]');
  if (said) said.textContent = words ?? '';
}

async function tell(body: object): Promise<boolean> {
  const answer = await fetch('follow/push', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  return answer.ok;
}

/** What is chosen in the form around the button. */
function chosen(form: HTMLFormElement): object {
  const data = new FormData(form);
  const labels = data.getAll('label');
  return {
    labels: data.get('which') === 'some' && labels.length > 0 ? labels : null,
    maintenance: data.get('maintenance') === 'yes',
  };
}

async function begin(section: HTMLElement): Promise<void> {
  const { pushKey, on, off, refused, failed } = section.dataset;
  const form = section.querySelector('form')!;
  const [start, stop] = section.querySelectorAll('button');
  section.hidden = false;
  const worker = await navigator.serviceWorker.register('push.js');
  const show = (subscribed: boolean) => {
    start!.hidden = subscribed;
    stop!.hidden = !subscribed;
  };
  const work = (run: () => Promise<void>) => (event: Event) => {
    event.preventDefault();
    run().catch(() => say(failed));
  };
  show((await worker.pushManager.getSubscription()) !== null);
  form.addEventListener(
    'submit',
    work(async () => {
      if ((await Notification.requestPermission()) !== 'granted') return say(refused);
      // One made with other keys would be refused.
      await (await worker.pushManager.getSubscription())?.unsubscribe();
      const made = await worker.pushManager.subscribe({
        userVisibleOnly: true,
        applicationServerKey: pushKey!,
      });
      const { endpoint, keys } = made.toJSON();
      if (!(await tell({ endpoint, ...keys, ...chosen(form) }))) {
        await made.unsubscribe();
        return say(failed);
      }
      show(true);
      say(on);
    }),
  );
  stop!.addEventListener(
    'click',
    work(async () => {
      const made = await worker.pushManager.getSubscription();
      if (made) {
        await tell({ endpoint: made.endpoint, off: true });
        await made.unsubscribe();
      }
      show(false);
      say(off);
    }),
  );
}

if (place && isSecureContext && 'serviceWorker' in navigator && 'PushManager' in window) {
  begin(place).catch(() => (place.hidden = true));
}

export {};
