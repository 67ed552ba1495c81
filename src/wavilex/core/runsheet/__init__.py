"""The way from found to plan: steps in an order that holds, what each should show, and how long the visit takes."""
