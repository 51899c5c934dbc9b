import {
  BookOpen,
  Cable,
  CircleUser,
  Folders,
  KeyRound,
  Layers,
  ListChecks,
  Mail,
  Undo2,
  type LucideIcon,
} from 'lucide-react';

/** Where the desk leads, in its head. */
export const PLACES = [
  { href: '/', label: 'Watches', also: '/watches' },
  { href: '/jobs', label: 'Jobs', also: '/jobs' },
  { href: '/outages', label: 'Outages', also: '/outages' },
  { href: '/maintenance', label: 'Maintenance', also: '/maintenance' },
  { href: '/messages', label: 'Messages', also: '/messages' },
  { href: '/pages', label: 'Public pages', also: '/incidents' },
];

/** And in its menu. */
export const MENU: { href: string; label: string; Icon: LucideIcon }[] = [
  { href: '/watches', label: 'All watches', Icon: ListChecks },
  { href: '/sections', label: 'Sections and tags', Icon: Folders },
  { href: '/shared', label: 'Set once for many', Icon: Layers },
  { href: '/account', label: 'Your account', Icon: CircleUser },
  { href: '/access', label: 'API tokens', Icon: KeyRound },
  { href: '/reference', label: 'Reference of the API', Icon: BookOpen },
  { href: '/watches/deleted', label: 'Deleted watches', Icon: Undo2 },
  { href: '/mail-door', label: 'Reports by mail', Icon: Mail },
  { href: '/own-line', label: 'This machine', Icon: Cable },
];

/** What one can set out to do, from anywhere; other words people look for it by. */
export const DEEDS = [
  { href: '/watches/new', label: 'Add a watch', words: 'new make site port certificate check-in' },
  { href: '/watches/many', label: 'Add many watches from a list', words: 'new paste csv bulk' },
  { href: '/watches/jobs', label: 'Bring a crontab along', words: 'new jobs timers schedule' },
  { href: '/incidents/new', label: 'Tell the public', words: 'incident notice status page' },
  { href: '/maintenance/new', label: 'Plan maintenance', words: 'window quiet' },
  { href: '/pages/new', label: 'Make a public page', words: 'new status' },
  { href: '/messages', label: 'Connect a channel', words: 'new chat room mail phone webhook' },
  { href: '/messages/routes/new', label: 'Say who hears what', words: 'new route alert' },
  { href: '/messages/watches', label: 'See who hears of what', words: 'routes table gaps' },
  { href: '/messages/drills', label: 'Rehearse an outage', words: 'drill test alarm' },
  { href: '/messages/texts/new', label: 'Write a text of your own', words: 'template message' },
  { href: '/messages/sent', label: 'Read what was sent', words: 'messages deliveries history' },
];
