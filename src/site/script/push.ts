/** What runs in a visitor's browser when a page tells something, also while the page is closed. */
interface Pushed {
  title: string;
  body: string;
  link: string;
  tag: string;
  /** Grows with each that is told. */
  nth?: number;
}

interface ShownEvent extends Event {
  readonly data?: { json: () => unknown } | null;
  readonly notification?: Notification;
  waitUntil: (work: Promise<unknown>) => void;
}

interface WorkerScope {
  readonly registration: ServiceWorkerRegistration;
  readonly clients: { openWindow: (address: string) => Promise<unknown> };
  addEventListener: (name: string, run: (event: ShownEvent) => void) => void;
}

const scope = globalThis as unknown as WorkerScope;

let shown: Promise<unknown> = Promise.resolve();

/** No push service promises an order (RFC 8030): what was told before what stands there does not take its place. */
async function show({ title, body, link, tag, nth = 0 }: Pushed): Promise<void> {
  const { registration } = scope;
  const [there] = await registration.getNotifications({ tag });
  const data = there?.data as { link: string; nth: number } | undefined;
  if (there && data && data.nth > nth) {
    return registration.showNotification(there.title, { body: there.body, tag, data });
  }
  return registration.showNotification(title, { body, tag, data: { link, nth } });
}

scope.addEventListener('push', (event) => {
  let pushed: Pushed = { title: '·', body: '', link: './', tag: 'unread' };
  try {
    pushed = { ...pushed, ...(event.data?.json() as Partial<Pushed>) };
  } catch {
    // Browsers ask that each push be shown; one that cannot be read leads to the page.
  }
  shown = shown.then(() => show(pushed)).catch(() => undefined);
  event.waitUntil(shown);
});

scope.addEventListener('notificationclick', (event) => {
  const { notification } = event;
  notification?.close();
  const home = scope.registration.scope;
  const { link = home } = (notification?.data ?? {}) as { link?: string };
  const address = new URL(link, home).href;
  // Nothing but the page it came from is opened.
  event.waitUntil(scope.clients.openWindow(address.startsWith(home) ? address : home));
});

export {};
