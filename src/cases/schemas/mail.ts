import { boolean, string } from 'yup';
import { strictObject, wholeNumber } from './common';

const DOMAIN =
  /^(?=.{1,253}$)[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?(?:\.[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?)*$/i;

export const mailEndpointSchema = strictObject({
  open: boolean().required('Expected open to be true or false, got nothing.'),
  port: wholeNumber('port', '', 1, 65_535)
    .required('Expected a port, got nothing.')
    .meta({ description: 'Where mail is taken in, by SMTP (RFC 5321).' }),
  domain: string()
    .trim()
    .default('')
    .when('open', ([open], schema) => (open ? schema.required('Expected a domain, got nothing.') : schema))
    .matches(DOMAIN, {
      message: ({ value }: { value: unknown }) =>
        `Expected a domain such as in.ternferry.test, got "${String(value)}".`,
      excludeEmptyString: true,
    })
    .meta({ description: 'What the addresses of check-ins end in.' }),
  largestKb: wholeNumber('largestKb', 'kB', 10, 10_000)
    .default(1000)
    .meta({ description: 'The largest mail that is taken, in kB.' }),
});
