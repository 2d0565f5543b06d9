/** Version of the computation, kept with every record somebody acted on. */
export const CORE_VERSION = '0.8.0';
