/** The colours of pictures that stand alone, where no sheet of style reaches. */
export interface Colours {
  ground: string;
  rule: string;
  ink: string;
  muted: string;
  running: string;
  late: string;
  out: string;
  maintenance: string;
  unknown: string;
}

export const PUBLIC_COLOURS: Readonly<Record<'light' | 'dark', Colours>> = {
  light: {
    ground: '#fffef9',
    rule: '#d9d2bf',
    ink: '#1b2632',
    muted: '#56606b',
    running: '#28696d',
    late: '#855407',
    out: '#a52c20',
    maintenance: '#5a55a6',
    unknown: '#5d646d',
  },
  dark: {
    ground: '#1a2430',
    rule: '#2c3947',
    ink: '#ece6d7',
    muted: '#a3aeb9',
    running: '#63b3aa',
    late: '#e5b55e',
    out: '#f08d80',
    maintenance: '#9b96e2',
    unknown: '#a3aeb9',
  },
};
