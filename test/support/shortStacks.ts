// Mocha keeps whole stacks, and every query to the data file takes one down: a tenth of what the server's tests cost.
Error.stackTraceLimit = 10;
