export declare const ROOT: string;
export declare function buildPages(): void;
