"""The expression language: text parsed to functions whose kinds of values are known before they are run."""
