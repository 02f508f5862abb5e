// mocha swallows a rejection that nobody handles: make it an error, so that the run fails.
process.on('unhandledRejection', error => {
  throw error
})
