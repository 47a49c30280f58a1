"""The window: Qt only. Views draw what the store holds and send intents back."""
