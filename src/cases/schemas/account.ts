import { string } from 'yup';
import { strictObject } from './common';

const SHORTEST_PASSWORD = 10;

export const email = string()
  .trim()
  .required('Expected your e-mail address, got nothing.')
  .max(200, 'Expected an e-mail address of at most 200 characters.')
  .email(({ value }) => `Expected an e-mail address such as ines@ternferry.test, got "${String(value)}".`);

const newPassword = string()
  .required('Expected a password, got nothing.')
  .min(
    SHORTEST_PASSWORD,
    ({ value }) =>
      `Expected a password of at least ${SHORTEST_PASSWORD} characters, got ${String(value).length}.`,
  )
  .max(500, 'Expected a password of at most 500 characters.');

export const firstAccountSchema = strictObject({
  email,
  password: newPassword,
  code: string().default('').max(100),
});

export const signInSchema = strictObject({
  email: string().trim().required('Expected your e-mail address, got nothing.').max(200),
  password: string().required('Expected your password, got nothing.').max(500),
});

export const accountChangeSchema = strictObject({
  current: string().required('Expected your present password, got nothing.').max(500),
  email: email.notRequired(),
  password: newPassword.notRequired(),
});
