export declare const web: string
export declare function buildWeb(): void
