import { configure } from '@testing-library/dom';

// what is waited for comes when it comes: a machine that is busy with something else is no defect
configure({ asyncUtilTimeout: 15_000 });
