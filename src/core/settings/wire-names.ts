/**
 * Settings of watches as every door calls them, with their unit in the name, and as they are kept. What is not listed
 * goes by one name.
 */
const WIRE: Readonly<Record<string, string>> = {
  every: 'everySeconds',
  timeout: 'timeoutSeconds',
  secondLookGap: 'secondLookGapSeconds',
  slowAfter: 'slowAfterMs',
  leeway: 'leewaySeconds',
  longestRun: 'longestRunSeconds',
  shortestGap: 'shortestGapSeconds',
};

const CORE: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries(WIRE).map(([core, wire]) => [wire, core]),
);

type Body = Record<string, unknown>;

export function wireName(name: string): string {
  return WIRE[name] ?? name;
}

/** The name by which a setting is kept; also that of a field, "schedule.everySeconds". */
export function coreName(name: string): string {
  return name
    .split('.')
    .map((part) => CORE[part] ?? part)
    .join('.');
}

/** A sentence for people, who read settings under their labels: units in names are for programs. */
export function coreText(sentence: string): string {
  return sentence.replaceAll(/\w+(?:Seconds|Ms)\b/g, (name) => CORE[name] ?? name);
}

function renamed(body: object, nameOf: (name: string) => string): Body {
  const entries = Object.entries(body).map(([name, value]): [string, unknown] => {
    const isSchedule = name === 'schedule' && typeof value === 'object' && value !== null;
    return [nameOf(name), isSchedule ? renamed(value as object, nameOf) : value];
  });
  return Object.fromEntries(entries);
}

/** Settings of a watch with their units in their names. */
export function wireOf(body: object): Body {
  return renamed(body, wireName);
}

/** The same the other way round. */
export function coreOf(body: object): Body {
  return renamed(body, (name) => CORE[name] ?? name);
}
