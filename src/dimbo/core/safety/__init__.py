"""What must not be done, and who has agreed: cautions, consents, age, pain, sudden signs, careful values."""
