"""What has to be bought, carried and given back: from as found against as planned, over the whole house."""
