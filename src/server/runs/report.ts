import { stringify } from 'csv-stringify/sync';
import { countOf } from '../../core/findings/counts';

/** What a report says of one picture of a run. */
export interface ReportRow {
  readonly name: string;
  readonly state: string;
  readonly sure: boolean | null;
  readonly findings: Readonly<Record<string, number>>;
  readonly message: string;
  readonly ms: number | null;
  readonly files: readonly {
    readonly name: string;
    readonly format: string;
    readonly bytes: number;
    readonly width: number;
    readonly height: number;
    readonly sha256: string;
  }[];
}

/** The report of a run as JSON text. */
export function reportJson(routine: string, rows: readonly ReportRow[]): string {
  const counts: Record<string, number> = {};
  for (const { state } of rows) counts[state] = (counts[state] ?? 0) + 1;
  return `${JSON.stringify({ routine, pictures: rows.length, counts, rows }, null, 2)}\n`;
}

/**
 * The same as a table (RFC 4180, with a header): a line for each file, and one for each picture without. What a spreadsheet would
 * take for a formula begins with an apostrophe.
 */
export function reportCsv(rows: readonly ReportRow[]): string {
  const lines = rows.flatMap(({ files, findings, sure, ...row }) => {
    const own = {
      picture: row.name,
      state: row.state,
      sure: sure === null ? '' : sure ? 'yes' : 'no',
      findings: countOf(findings),
      milliseconds: row.ms ?? '',
      message: row.message,
    };
    const none = { name: '', format: '', bytes: '', width: '', height: '', sha256: '' };
    return (files.length === 0 ? [none] : files).map((file) => ({
      ...own,
      file: file.name,
      format: file.format,
      bytes: file.bytes,
      width: file.width,
      height: file.height,
      sha256: file.sha256,
    }));
  });
  return stringify(lines, { header: true, record_delimiter: 'windows', escape_formulas: true });
}
