/** What runs in a visitor's browser when a page tells something, also while the page is closed. */
interface Pushed {
  title: string;
  body: string;
  link: string;
  tag: string;
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

scope.addEventListener('push', (event) => {
  let pushed: Pushed = { title: '·', body: '', link: './', tag: 'unread' };
  try {
    pushed = { ...pushed, ...(event.data?.json() as Partial<Pushed>) };
  } catch {
    // Browsers ask that each push be shown; one that cannot be read leads to the page.
  }
  const { title, body, link, tag } = pushed;
  event.waitUntil(scope.registration.showNotification(title, { body, tag, data: { link } }));
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
