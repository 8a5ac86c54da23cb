/** The server's answer when it refuses. */
export interface ApiFault {
  status: number;
  code: string;
  message: string;
  fix?: string;
}
