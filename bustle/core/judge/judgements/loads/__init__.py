"""What servos hold and feet push."""
