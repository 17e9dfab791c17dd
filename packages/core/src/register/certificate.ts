/** Days for which an instrument's certificate is taken to hold. */
export const certificateDays = 365
