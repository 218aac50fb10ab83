/** Version of the computation, carried by every result; raised when results, or what they consist of, change. */
export const CORE_VERSION = '0.7.0'
