"""What an operator watches: logs, numbers, whether it answers."""
