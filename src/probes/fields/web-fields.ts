import * as f from '@/core/settings/fields';
import { secretHeadersField } from '@/probes/fields/host-fields';
import type { FieldDescription } from '@/core/settings/field-description';
import { valueTestColumns } from './schema';

const REQUEST = 'What is sent';
const REPLY = 'What must come back';
const WAY = 'Which way it goes';
const TRUST = 'Certificates';

/** The fields of a web page, from what everybody fills in to what few need. */
export const webFields: FieldDescription[] = [
  f.text('address', 'Address', 'A page, such as booking.ternferry.test/crossings.', {
    placeholder: 'booking.ternferry.test',
  }),
  f.text(
    'words',
    'These words must be on the page',
    'Leave empty if any page will do. Written as on the page, within its first megabyte; spaces and line breaks count alike.',
    { placeholder: 'Choose your crossing' },
  ),
  f.text('accepted', 'Status codes that are fine', 'Single codes and ranges, such as 200-299, 401.', {
    shared: true,
    extra: REPLY,
  }),
  f.toggle(
    'anyCase',
    'Words that must be there: capitals do not matter',
    'Without this, words must stand as written.',
    { extra: REPLY },
  ),
  f.area(
    'unwanted',
    'These words must not be on the page',
    'One line each, such as “error” or “out of order”; the first megabyte of the page is searched.',
    { extra: REPLY },
  ),
  f.toggle(
    'unwantedAnyCase',
    'Words that must not be there: capitals do not matter',
    'Without this, “error” does not find “ERROR”.',
    { extra: REPLY },
  ),
  f.text(
    'pattern',
    'A pattern must match',
    'A regular expression (RE2 syntax); it cannot hang, however it is written.',
    { placeholder: 'High water at \\d\\d:\\d\\d', extra: REPLY },
  ),
  f.rows('headerTests', 'Headers of the reply', 'All of these must hold.', {
    columns: valueTestColumns('Header', 'content-type'),
    extra: REPLY,
  }),
  f.rows('jsonTests', 'Values in a JSON reply', 'JSON paths as in RFC 9535. All of these must hold.', {
    columns: valueTestColumns('Path', '$.status', true),
    extra: REPLY,
  }),
  f.choice(
    'redirects',
    'Redirects',
    'What it means when the server sends visitors elsewhere.',
    [
      ['follow', 'are followed'],
      ['refuse', 'count as failing'],
      ['lead to', 'must lead to an address'],
    ],
    { extra: REPLY },
  ),
  f.text('leadTo', 'They must lead to', 'The beginning of the address where they end.', {
    placeholder: 'https://booking.ternferry.test/',
    extra: REPLY,
    when: { field: 'redirects', is: ['lead to'] },
  }),
  f.number('smallestBytes', 'Least size, in bytes', 'Leave empty for no limit.', { extra: REPLY }),
  f.number('largestBytes', 'Largest size, in bytes', 'Leave empty for no limit.', { extra: REPLY }),
  f.choice(
    'method',
    'Method',
    'HEAD asks for the headers only: words cannot be tested then.',
    ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'],
    { extra: REQUEST },
  ),
  f.area('headers', 'Headers', 'One “Name: value” a line.', {
    shared: true,
    placeholder: 'Accept: application/json',
    extra: REQUEST,
  }),
  secretHeadersField('The same, for keys and tokens.', { extra: REQUEST }),
  f.area('body', 'Body', 'Sent as it stands.', { extra: REQUEST }),
  f.text('user', 'Name for basic sign-in', 'Leave empty for none.', { extra: REQUEST }),
  f.secret('password', 'Password for basic sign-in', 'Kept sealed and not shown again.', { extra: REQUEST }),
  f.secret(
    'bearer',
    'Token for bearer sign-in',
    'Sent in place of name and password. Kept sealed and not shown again.',
    { extra: REQUEST },
  ),
  f.text(
    'connectTo',
    'Connect to another address',
    'A host or host:port; the name of the address is still sent. For one server among several.',
    { placeholder: '192.0.2.7:8443', extra: WAY },
  ),
  f.choice(
    'family',
    'Addresses',
    'A host may be reachable by one kind only.',
    [
      ['any', 'IPv4 or IPv6'],
      ['4', 'IPv4 only'],
      ['6', 'IPv6 only'],
    ],
    { shared: true, extra: WAY },
  ),
  f.text('proxy', 'Through an HTTP proxy', 'Its address; leave empty for none.', {
    shared: true,
    placeholder: 'http://proxy.ternferry.test:3128',
    extra: WAY,
  }),
  f.text('proxyUser', 'Name for the proxy', 'Leave empty where it lets everybody through.', { extra: WAY }),
  f.secret('proxyPassword', 'Password for the proxy', 'Kept sealed and not shown again.', { extra: WAY }),
  f.number(
    'soonDays',
    'Certificate: soon, days before its end',
    'From here on the watch is shown as wanting a hand, and one message says so.',
    { shared: true, extra: TRUST },
  ),
  f.number('urgentDays', 'Certificate: urgent, days before its end', 'From here on it is said once more.', {
    shared: true,
    extra: TRUST,
  }),
  f.area(
    'authority',
    'Trust this authority too',
    'Its certificate (PEM), for a server with an authority of your own.',
    { shared: true, placeholder: '-----BEGIN CERTIFICATE-----', extra: TRUST },
  ),
  f.area('clientCertificate', 'Certificate to show to the server', 'PEM. Leave empty for none.', {
    placeholder: '-----BEGIN CERTIFICATE-----',
    extra: TRUST,
  }),
  f.secretArea('clientKey', 'Key of that certificate', 'PEM. Kept sealed and not shown again.', {
    extra: TRUST,
  }),
  f.toggle(
    'skipVerify',
    'Do not check the certificate',
    'Anybody in between could answer in its place. A warning stays on the watch.',
    { shared: true, extra: TRUST },
  ),
];
