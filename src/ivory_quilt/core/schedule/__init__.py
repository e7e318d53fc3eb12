"""When what is done: tasks with waits, people and booths with calendars, and the earliest end."""
