"""What a real office would run on a server, each as a small stand-in that ships with the program."""
