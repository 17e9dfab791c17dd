// Stylesheets have nothing to say to a unit test.
module.exports = {}
