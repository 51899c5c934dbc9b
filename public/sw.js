// What runs on a device that hears of this desk by Web Push, also while the desk is closed.
'use strict';

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
  const { title, body, link, tag, tone, at } = pushed;
  event.waitUntil(
    self.registration.showNotification(title, {
      body,
      tag,
      // What takes an earlier one's place is news where it is no mere note.
      renotify: tone !== 'note',
      requireInteraction: tone === 'bad',
      timestamp: at,
      icon: '/icon.svg',
      data: { link },
    }),
  );
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
