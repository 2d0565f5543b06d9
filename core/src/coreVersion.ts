/** Version of the computation, kept with every record somebody acted on. */
export const CORE_VERSION = '0.7.0';
