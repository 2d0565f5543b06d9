import { configure, getConfig } from '@testing-library/dom';

configure(({ getElementError: whole }) => ({
  // what is waited for comes when it comes: a machine that is busy with something else is no defect
  asyncUtilTimeout: 15_000,
  // what is not there yet is looked for again and again: the page is only written down for the error that ends the wait
  getElementError(message, container) {
    if (!getConfig()._disableExpensiveErrorDiagnostics) return whole(message, container);
    const error = Object.assign(new Error(), { name: 'TestingLibraryElementError' });
    return Object.defineProperty(error, 'message', {
      configurable: true,
      get: () => whole(message, container).message,
    });
  },
}));
