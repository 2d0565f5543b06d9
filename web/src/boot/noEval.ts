import { config } from 'zod/v4/core';

// zod would try eval when a schema is made, which the content security policy forbids: this comes before any schema
config({ jitless: true });
