// What runs on a device that hears of this desk by Web Push, also while the desk is closed.
'use strict';

/** What is shown stands in a row: one that takes longer would take the place of what came after it. */
let shown = Promise.resolve();

/**
 * No push service promises an order (RFC 8030): what was said before what stands there does not take its place. By their
 * numbers, for the clock of the desk may have been set back between the two.
 */
async function show(title, options) {
  const [there] = await self.registration.getNotifications({ tag: options.tag });
  if (!(there?.data?.nth > options.data.nth)) return self.registration.showNotification(title, options);
  const { body, tag, data, icon, requireInteraction } = there;
  return self.registration.showNotification(there.title, { body, tag, data, icon, requireInteraction });
}

/** Shows what was pushed. A push that cannot be read is shown as one, since browsers ask that each be shown. */
self.addEventListener('push', (event) => {
  let pushed = {
    title: 'Calm Lantern',
    body: 'Something happened. Open the desk to read it.',
    link: '/',
    tag: 'unread',
  };
  try {
    pushed = { ...pushed, ...event.data.json() };
  } catch {
    // It stays as it is.
  }
  const { title, body, link, tag, tone, at, nth } = pushed;
  const options = {
    body,
    tag,
    // What takes an earlier one's place is news where it is no mere note.
    renotify: tone !== 'note',
    requireInteraction: tone === 'bad',
    timestamp: at,
    icon: '/icon.svg',
    data: { link, nth },
  };
  shown = shown.then(() => show(title, options)).catch(() => undefined);
  event.waitUntil(shown);
});

/** Opens what it is about: in a window that is there, or in a new one. Only this desk is opened. */
self.addEventListener('notificationclick', (event) => {
  event.notification.close();
  const { pathname, search } = new URL(event.notification.data?.link ?? '/', self.location.origin);
  const address = new URL(pathname + search, self.location.origin).href;
  event.waitUntil(
    self.clients.matchAll({ type: 'window' }).then((windows) => {
      const open = windows.find((one) => one.url === address);
      return open ? open.focus() : self.clients.openWindow(address);
    }),
  );
});
