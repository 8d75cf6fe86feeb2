export type ApexOptions = Record<string, unknown>;
declare const none: Record<string, never>;
export default none;
