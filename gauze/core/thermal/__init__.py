"""Heat: how warm a build gets, steady and in still air."""
