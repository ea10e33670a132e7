/** What the validator finds: severity 0 is an error, 1 a warning. */
export interface Report {
  issues: { messages: { code: string; message: string; severity: number; pointer?: string }[] };
}
export function validateBytes(content: Uint8Array): Promise<Report>;
