/**
 * Node's environment for tests, its globals a plain object: Jest's own asks a proxy at every mention of Math, Map or Array, which
 * makes a computation that lives of them a sixth slower.
 */
import vm from 'node:vm';
import Node from 'jest-environment-node';

/** What tests of one file worked out, for those of the others that this process runs: text, which belongs to no environment. */
const answersOfProcess = (globalThis.answersOfProcess ??= new Map());

export default class extends (Node.default ?? Node) {
  constructor(...args) {
    const { createContext } = vm;
    vm.createContext = () => createContext(vm.constants.DONT_CONTEXTIFY);
    try {
      super(...args);
    } finally {
      vm.createContext = createContext;
    }
    Object.assign(this.global, { answersOfProcess });
  }
}
