"""What pages send: one module of forms for each topic, each form a model of its fields."""
