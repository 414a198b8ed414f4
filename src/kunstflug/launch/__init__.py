"""Starting and stopping: the private database and the web server."""
