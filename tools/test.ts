process.stdout.write("todo");
