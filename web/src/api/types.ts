/** What the server says when it refuses. */
export interface ApiFault {
  status: number;
  code: string;
  message: string;
  fix?: string;
}

/** Keys a person changed, by command; an empty text is none at all. */
export type ChangedKeys = Readonly<Record<string, string>>;
