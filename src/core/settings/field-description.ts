/** A column of a field that holds rows. */
export interface ColumnDescription {
  name: string;
  label: string;
  control: 'text' | 'textarea' | 'select';
  options?: readonly string[];
  placeholder?: string;
}

/** One field of the settings of a probe or a channel, as the form shows it. */
export interface FieldDescription {
  name: string;
  label: string;
  help: string;
  /** `secret` is kept sealed and never shown again; `watches` picks other watches. */
  control:
    | 'text'
    | 'textarea'
    | 'number'
    | 'switch'
    | 'select'
    | 'secret'
    | 'secret-area'
    | 'rows'
    | 'watches';
  placeholder?: string;
  options?: readonly { value: string; text: string }[];
  columns?: readonly ColumnDescription[];
  /** The order of the rows means something, so they can be moved. */
  ordered?: true;
  /** May be set once for many watches; fields of one name mean the same in all kinds. */
  shared?: true;
  /** The other side can be asked what may stand here, once the other fields are filled in. */
  finds?: true;
  /** A key though it is typed in the open, as an address to post to is: kept sealed, and not shown again. */
  key?: true;
  /** Shown only when asked for more, under this heading. */
  extra?: string;
  /** Shown only while another field has one of these values. */
  when?: { field: string; is: readonly string[] };
}
