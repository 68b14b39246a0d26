declare module 'ml-logistic-regression' {
  import type { Matrix } from 'ml-matrix';
  /** One family against the rest, by gradient descent. */
  export default class LogisticRegression {
    constructor(options: { numSteps: number; learningRate: number });
    train(features: Matrix, target: Matrix): void;
    predict(features: Matrix): number[];
  }
}
