"""The layout engine as a service beside whoever asks: its process, its queue, other machines."""
