/** Version of the computation, carried by every result. */
export const CORE_VERSION = '0.1.0'
