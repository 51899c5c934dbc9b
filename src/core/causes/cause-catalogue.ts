// Long. A catalogue: one entry a cause, found by its code.
/** Values a cause's sentence is filled from, such as `{ status: 503 }`. */
export type CauseDetail = Record<string, string | number>;

export interface Cause {
  /** One plain sentence; `{name}` is replaced from the detail. */
  sentence: string;
  /** The next thing to try. */
  advice: string;
}

/** Every way to fail. A retired code is never used again. */
export const CAUSES = {
  'name.not-found': {
    sentence: 'The name {host} does not exist.',
    advice: 'Check the spelling, and whether the domain was renewed and its records are still there.',
  },
  'name.no-family': {
    sentence: '{host} has no {family} address.',
    advice: 'Add one at the name server, or let this watch take addresses of either kind.',
  },
  'name.server-failed': {
    sentence: 'The name server could not answer for {host}.',
    advice: 'Look at the name server, or try another resolver; other names may be affected too.',
  },
  'name.timeout': {
    sentence: 'No name server answered for {host} within {limit}.',
    advice: 'Look whether the resolver is on and reachable; other names may be affected too.',
  },
  'name.refused': {
    sentence: 'The name server refuses to answer for {host}.',
    advice: 'Ask a resolver that may answer for this name, or allow this machine on the server.',
  },
  'name.no-record': {
    sentence: '{host} has no {type} record.',
    advice: 'Add the record at the name server, or look for another type.',
  },
  'record.missing': {
    sentence: 'The {type} record of {host} does not contain {expected}; it is {got}.',
    advice: 'Compare with what the name server should say; a change may take its time to live to arrive.',
  },
  'record.differs': {
    sentence: 'The {type} record of {host} is {got}, not {expected}.',
    advice: 'Compare with what the name server should say; a change may take its time to live to arrive.',
  },
  'record.changed': {
    sentence: 'The {type} record of {host} changed from {before} to {got}.',
    advice: 'If the change was meant, take the new value as right; if not, look who may change the zone.',
  },
  'host.no-route': {
    sentence: 'There is no route to {address}.',
    advice: 'Check that the host is on, that its address is right, and the network between here and there.',
  },
  'host.silent': {
    sentence: '{host} does not answer ping.',
    advice: 'The host may be off, or may drop ping on purpose: try a port instead.',
  },
  'host.loss': {
    sentence: '{lost} % of the packets to {host} were lost, over the limit of {limit} %.',
    advice: 'Look at the line in between: a bad cable, a busy link or weak wireless are the usual reasons.',
  },
  'host.far': {
    sentence: 'A round trip to {host} takes {took}, over the limit of {limit}.',
    advice: 'Look whether the line in between is busy, or takes another way than usual.',
  },
  'port.refused': {
    sentence: 'The host is there, but nothing listens on port {port}.',
    advice: 'Start the service, or check which port it listens on.',
  },
  'port.timeout': {
    sentence: 'No connection to port {port} within {limit}.',
    advice: 'The host may be off or a firewall may drop the traffic; try from the same network.',
  },
  'port.closed': {
    sentence: 'Port {port} accepted the connection and closed it at once.',
    advice: 'Look at the log of the service for the reason.',
  },
  'answer.none': {
    sentence: 'Port {port} did not answer within {limit}.',
    advice:
      'The service took the text and said nothing: look at its log, and whether this is what it expects.',
  },
  'answer.differs': {
    sentence: 'Port {port} answered “{got}”; expected {expected}.',
    advice: 'Look whether another service listens there now, or the service reports trouble of its own.',
  },
  'datagram.silent': {
    sentence: 'No answer to the datagram on port {port} within {limit}.',
    advice:
      'A lost packet, a firewall and a service that is away look the same from here. Look on the host itself.',
  },
  'tls.failed': {
    sentence: 'The secure connection could not be set up: {reason}.',
    advice: 'Check that this port speaks TLS and offers a current protocol version.',
  },
  'tls.expired': {
    sentence: 'The certificate expired {ago} ago.',
    advice: 'Renew the certificate, load it into the server, and look again.',
  },
  'tls.not-yet-valid': {
    sentence: 'The certificate only becomes valid in {ahead}.',
    advice: 'Check the clock of this machine and the dates of the certificate.',
  },
  'tls.wrong-name': {
    sentence: 'The certificate is for {names}, not for {host}.',
    advice: 'Install a certificate that names this host, or use an address the certificate names.',
  },
  'tls.no-names': {
    sentence: 'The certificate names no host at all; it only has the common name {subject}.',
    advice:
      'Have it issued anew with the host as an alternative name (SAN): browsers no longer heed the common name.',
  },
  'tls.chain-expires-soon': {
    sentence: 'The certificate in between, {name}, expires in {left}.',
    advice: 'Load the newer one that its authority offers into the server, beside the server’s own.',
  },
  'tls.untrusted': {
    sentence: 'The certificate is not from an authority this machine trusts ({reason}).',
    advice: 'Install the whole chain on the server, or make its authority known to this machine.',
  },
  'tls.bad-dates': {
    sentence: 'The dates of the certificate cannot be read: {dates}.',
    advice: 'Have the certificate issued anew; its dates do not follow the standard.',
  },
  'tls.expires-soon': {
    sentence: 'The certificate expires in {left}.',
    advice: 'Renew it in good time; where it renews by itself, look why it has not yet.',
  },
  'tls.expires-urgent': {
    sentence: 'The certificate expires in only {left}.',
    advice: 'Renew it now and load it into the server.',
  },
  'tls.weak-key': {
    sentence: 'The key of the certificate is weaker than it should be: {key}.',
    advice: 'Have it issued anew with an EC P-256 or an RSA 2048 key, or a stronger one.',
  },
  'tls.old-protocol': {
    sentence: 'The server agreed on {protocol} only, older than {least}.',
    advice: 'Switch on a current protocol version on the server.',
  },
  'tls.not-offered': {
    sentence: 'The server on port {port} does not offer to go over to TLS.',
    advice: 'Switch on STARTTLS there, or look at the port that speaks TLS from the start.',
  },
  'reply.timeout': {
    sentence: 'Connected, but no reply within {limit}.',
    advice: 'The service hangs or is overloaded: look at its load and its log.',
  },
  'reply.unfinished': {
    sentence: 'The reply began, but was not complete within {limit}.',
    advice:
      'Something sends it very slowly, or never ends it: look at the load of the service and at its log.',
  },
  'reply.closed': {
    sentence: 'The connection was closed before anything came back.',
    advice: 'Look for a crash in the log of the service, or a proxy before it that has nobody to ask.',
  },
  'reply.broken-pieces': {
    sentence: 'The reply comes in pieces that do not fit together (chunked transfer coding).',
    advice:
      'Look at the service, or at a proxy before it that rewrites replies; browsers may show half a page.',
  },
  'reply.broken-packing': {
    sentence: 'The reply says that it is packed as {encoding}, and cannot be unpacked.',
    advice: 'Look whether something before the service packs it twice, or not at all.',
  },
  'reply.cookie-wall': {
    sentence: 'The page sends everybody back to itself until a cookie is kept, and a plain look keeps none.',
    advice: 'Watch it as a journey, which keeps cookies, or look at an address behind it.',
  },
  'reply.speaks-tls': {
    sentence: 'Port {port} speaks TLS, and was asked without.',
    advice: 'Let the address begin with https.',
  },
  'reply.cut-off': {
    sentence: 'The reply was cut off before it was complete.',
    advice: 'Look for a crash in the log of the service, or a proxy that gives up early.',
  },
  'reply.unreadable': {
    sentence: 'What answered does not speak HTTP: {reason}.',
    advice: 'Check the port and whether the address should begin with http or https.',
  },
  'reply.redirects': {
    sentence: 'More than {limit} redirects in a row.',
    advice: 'Two rules probably send visitors back and forth; follow the addresses one by one.',
  },
  'reply.bad-redirect': {
    sentence: 'The reply redirects to an address that cannot be followed: {location}.',
    advice: 'Correct the Location header that the server sends.',
  },
  'reply.redirected': {
    sentence: 'The reply redirects to {location}, and no redirect is wanted here.',
    advice: 'Look whether the page has moved; then change the address, or let redirects be followed.',
  },
  'reply.redirect-body': {
    sentence:
      'It replied {status} and wants the body sent again to another site, {location}; that was not done.',
    advice:
      'If the page moved there for good, look at that address itself; what you send was meant for this site only.',
  },
  'reply.redirect-elsewhere': {
    sentence: 'It leads to {location}, not to {expected}.',
    advice: 'Look at the redirect rules of the server.',
  },
  'reply.header-flood': {
    sentence: 'The header of the reply is longer than this machine reads.',
    advice: 'Look what fills it; a loop that sets cookies is the usual reason.',
  },
  'reply.header': {
    sentence: 'The header {header} is {got}; expected {expected}.',
    advice: 'Look at the settings of the server or of the proxy before it.',
  },
  'reply.too-small': {
    sentence: 'The reply is {size} long, less than {limit}.',
    advice: 'Open the page: it may be empty or cut short.',
  },
  'reply.too-large': {
    sentence: 'The reply is longer than {limit}.',
    advice: 'Open the page: it may have grown, or may never end.',
  },
  'reply.no-upgrade': {
    sentence: 'The server did not take up the WebSocket; it replied {status}.',
    advice: 'Look whether the address is right and a proxy in between passes WebSockets on.',
  },
  'reply.proxy': {
    sentence: 'The proxy {proxy} did not let the request through: {reason}.',
    advice: 'Look whether the proxy is on, and may reach this address.',
  },
  'reply.unexpected': {
    sentence: 'It answered “{got}”, which is not how {service} answers.',
    advice: 'Look whether another service listens on this port now.',
  },
  'reply.status': {
    sentence: 'The server answers, but replies {status}.',
    advice: 'Look in the log of the service at the time of the first failed look.',
  },
  'text.missing': {
    sentence: 'The words “{words}” are missing from the page.',
    advice: 'Open the page: it may show an error, or the wording may have changed on purpose.',
  },
  'text.unwanted': {
    sentence: 'The words “{words}” are on the page, and must not be.',
    advice: 'Open the page: it may show an error.',
  },
  'text.no-match': {
    sentence: 'Nothing on the page matches the pattern {pattern}.',
    advice: 'Open the page: it may show an error, or its text may have changed on purpose.',
  },
  'text.not-reached': {
    sentence: '{what} is not in the first {read} of the page; what follows was not read.',
    advice: 'Choose words nearer to the beginning of the page, or an address that gives a shorter one.',
  },
  'json.unreadable': {
    sentence: 'The answer is not JSON: {reason}.',
    advice: 'Open the address: it may show an error page in place of data.',
  },
  'value.none': {
    sentence: 'There is nothing at {what}.',
    advice: 'Look at the answer itself; its shape may have changed.',
  },
  'value.too-far': {
    sentence: '{what} leads through more of the answer than is gone through.',
    advice: 'Name the way to the value in place of “..” or a filter, or ask for a shorter answer.',
  },
  'value.differs': {
    sentence: '{what} is {got}; expected {expected}.',
    advice: 'Look where the value comes from; it may be right to fail, or may have changed on purpose.',
  },
  'value.no-number': {
    sentence: 'What came for {what} is no number: {got}.',
    advice: 'Look at the answer itself: another value may stand there, or a unit may stand with it.',
  },
  'value.low': {
    sentence: '{what} is {value}, under {limit}.',
    advice: 'Look why it has fallen.',
  },
  'value.high': {
    sentence: '{what} is {value}, over {limit}.',
    advice: 'Look why it has risen.',
  },
  'value.low-soon': {
    sentence: '{what} is {value}, under {limit}, and may soon be too low.',
    advice: 'Look why it is falling.',
  },
  'value.high-soon': {
    sentence: '{what} is {value}, over {limit}, and may soon be too high.',
    advice: 'Look why it is rising.',
  },
  'value.old': {
    sentence: 'The last value of {what} is {age} old; {limit} is allowed.',
    advice: 'Look whether what sends it still runs.',
  },
  'sign-in.refused': {
    sentence: 'The sign-in was refused: {said}.',
    advice: 'Check the name and the password, and whether the account may sign in from this machine.',
  },
  'sign-in.full': {
    sentence: 'The server takes no more connections: {said}.',
    advice: 'Look who holds them all; raise the limit only when you know why they are needed.',
  },
  'sign-in.not-ready': {
    sentence: 'The server is there, but not ready yet: {said}.',
    advice: 'It is starting, stopping or recovering: wait a little, and look in its log how far it is.',
  },
  'command.refused': {
    sentence: 'It answered “{said}” to {command}.',
    advice: 'Look in the log of the service for the reason.',
  },
  'topic.silent': {
    sentence: 'Nothing came on the topic {topic} within {limit}.',
    advice: 'Look whether what sends it still runs, and keeps its last value on the broker.',
  },
  'container.no-engine': {
    sentence: 'No container engine answers at {path}.',
    advice: 'Look whether the engine runs, and whether this is the path of its socket.',
  },
  'container.missing': {
    sentence: 'There is no container called {name}.',
    advice: 'Look whether it was removed or renamed.',
  },
  'container.stopped': {
    sentence: 'The container {name} is {state}.',
    advice: 'Look at its log for why it ended, and start it again.',
  },
  'container.unhealthy': {
    sentence: 'The container {name} runs, but its own health check says {health}.',
    advice: 'Look at the log of its health check.',
  },
  'parts.down': {
    sentence: '{down} of {all} are down: {names}.',
    advice: 'Look at those first; this one only puts them together.',
  },
  'look.broken': {
    sentence: 'This look could not be carried out here: {reason}.',
    advice: 'This is a fault of Calm Lantern or of the machine it runs on, not of the target.',
  },
  'look.no-ping': {
    sentence: 'This machine cannot send ping: {reason}.',
    advice:
      'Install the ping program (on Debian: apt install iputils-ping) and let it send ICMP (setcap cap_net_raw+ep on it).',
  },
  'look.wrong-key': {
    sentence: 'The client’s certificate and its key do not belong together.',
    advice: 'Paste both again from the same pair; nothing is known of the target until they fit.',
  },
  'look.no-permission': {
    sentence: 'Calm Lantern may not open {path}.',
    advice:
      'Add the account it runs as to the group that owns it (usermod -aG GROUP ACCOUNT), then start Calm Lantern again.',
  },
  'look.no-line': {
    sentence: 'This machine could not reach out at all.',
    advice:
      'Look at its own line: cable, wireless, router. Nothing is concluded about what it watches until the line is back.',
  },
  'look.no-parts': {
    sentence: 'Nothing is known yet of the watches it is put together from.',
    advice: 'It says something as soon as enough of them were looked at.',
  },
  'checkin.missed': {
    sentence: 'Expected by {deadline}, but no check-in came.',
    advice: 'Look on the job’s machine whether it started, and whether it can reach this address.',
  },
  'checkin.never': {
    sentence: 'Expected by {deadline}, but no check-in has ever come.',
    advice:
      'Perhaps the job does not report yet: put one of the ready lines into it, and run it once by hand.',
  },
  'checkin.failed': {
    sentence: 'The job reported that it failed.',
    advice: 'Read the output it sent, or its log on the machine it runs on.',
  },
  'checkin.exit-status': {
    sentence: 'The job ended with exit status {code}.',
    advice: 'Read the output it sent, or its log on the machine it runs on.',
  },
  'checkin.unfinished': {
    sentence: 'The job began at {begun}, but never said it was done.',
    advice: 'It may hang or may have been ended: look for it on its machine.',
  },
  'checkin.doubled': {
    sentence: 'The job began again while the run begun at {begun} had not said it was done.',
    advice: 'Two runs at once may spoil each other’s work: let the job take a lock, or run it less often.',
  },
  'checkin.too-soon': {
    sentence: 'The job was done again {gap} after the last time; at least {limit} should lie between.',
    advice: 'Look whether it is scheduled twice, or started by hand or by another machine too.',
  },
  'checkin.overlong': {
    sentence: 'The job began at {begun} and has run longer than the allowed {limit}.',
    advice: 'Look whether it hangs, or allow it longer if it has more to do than it had.',
  },
} as const satisfies Record<string, Cause>;
